<!-- Speed against power by each way of saving: settings with their curve and its band. -->
<script setup lang="ts">
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { ResponseView } from '../api/lab'
import { colours } from '../composables/theme'
import { gain, number } from '../ui/words/format'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{ view: ResponseView }>()
const percent = (ratio: number): number => (ratio - 1) * 100
const rows = computed(() =>
  props.view.ways.flatMap((one) => one.places.map((place) => [one.way, place.title, place.x, place.ratio, place.deviation])),
)

/** What was not tried stands dashed, with both its intervals. */
const untried = (c: typeof colours.value) =>
  props.view.untried.flatMap((one) => {
    const dashed = { color: c.ochre, width: 1.2, type: 'dashed' as const }
    const line = { type: 'line' as const, showSymbol: false, silent: true, lineStyle: dashed, itemStyle: { color: c.ochre } }
    const [x, y] = [one.power_w.value, percent(one.ratio.value)]
    return [
      {
        ...line,
        data: [
          [one.power_w.low, y],
          [one.power_w.high, y],
        ],
      },
      {
        ...line,
        data: [
          [x, percent(one.ratio.low)],
          [x, percent(one.ratio.high)],
        ],
      },
      {
        type: 'scatter' as const,
        symbol: 'circle',
        symbolSize: 9,
        data: [{ name: `not tried: ${one.title}`, value: [x, y] }],
        itemStyle: { color: 'transparent', borderColor: c.ochre, borderWidth: 1.6, borderType: 'dashed' as const },
      },
    ]
  })

const option = computed<EChartsOption>(() => {
  const c = colours.value
  const look: Record<string, { colour: string; symbol: string }> = {
    'cap the power': { colour: c.petrol, symbol: 'rect' },
    'hold a voltage': { colour: c.moss, symbol: 'diamond' },
    'something else': { colour: c.quiet, symbol: 'circle' },
  }
  const line = { type: 'line' as const, showSymbol: false, silent: true }
  return {
    animation: false,
    textStyle: chartStyle.value.text,
    grid: { left: 28, right: 130, top: 16, bottom: 26, containLabel: true },
    tooltip: {
      trigger: 'item',
      ...chartStyle.value.tooltip,
      formatter: (item: unknown) => {
        const { value, name } = item as { value: [number, number]; name: string }
        return `${name}<br>${number(value[0], 0)} W, ${gain(1 + value[1] / 100)} speed`
      },
    },
    xAxis: {
      type: 'value',
      scale: true,
      name: 'mean power, W',
      nameLocation: 'middle',
      nameGap: 28,
      ...chartStyle.value.axis,
    },
    yAxis: {
      type: 'value',
      scale: true,
      name: 'speed against stock, %',
      nameLocation: 'middle',
      nameGap: 40,
      ...chartStyle.value.axis,
    },
    series: [
      ...untried(c),
      ...props.view.ways.flatMap((one) => {
        const { colour, symbol } = look[one.way]!
        const curve = one.response?.curve ?? []
        return [
          // a band is drawn for the cap only: what a lower voltage gives hangs on the silicon, not on the watts
          ...(one.way === 'cap the power'
            ? [
                {
                  ...line,
                  data: curve.map((point) => [point.x, percent(point.low)]),
                  stack: one.way,
                  lineStyle: { opacity: 0 },
                  itemStyle: { color: colour },
                  stackStrategy: 'all' as const,
                },
                {
                  ...line,
                  data: curve.map((point) => [point.x, percent(point.high) - percent(point.low)]),
                  stack: one.way,
                  lineStyle: { opacity: 0 },
                  areaStyle: { color: colour, opacity: 0.14 },
                  itemStyle: { color: colour },
                  stackStrategy: 'all' as const,
                },
                {
                  ...line,
                  data: curve.map((point) => [point.x, percent(point.ratio)]),
                  lineStyle: { color: colour, width: 2, type: 'dashed' as const },
                  itemStyle: { color: colour },
                  endLabel: { show: false },
                },
              ]
            : []),
          {
            type: 'scatter' as const,
            symbol,
            symbolSize: 10,
            data: one.places.map((place) => ({ name: place.title, value: [place.x, percent(place.ratio)] })),
            itemStyle: { color: colour },
            label: {
              show: true,
              position: one.way === 'cap the power' ? ('right' as const) : ('top' as const),
              formatter: (item: unknown) => one.places[(item as { dataIndex: number }).dataIndex]?.label ?? '',
              color: c.ink,
              fontSize: 12,
            },
            labelLayout: { moveOverlap: 'shiftY' as const },
          },
        ]
      }),
    ],
  }
})
</script>

<template>
  <DataChart
    name="speed against power"
    says="Squares: a lower power limit, with the curve between them and its band. Diamonds: a lower voltage. Circles: neither. Dashed: not tried, predicted."
    :option="option"
    :height="360"
    :headers="['way', 'setting', 'W', 'speed ratio', 'deviation']"
    :rows="rows"
  />
</template>
