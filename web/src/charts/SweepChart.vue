<!-- Speed along a knob, a line a workload, with whiskers. -->
<script setup lang="ts">
import type { CustomSeriesRenderItemAPI, CustomSeriesRenderItemParams, EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { SweepView } from '../api/lab'
import { colours } from '../composables/theme'
import { gain, knobValue } from '../ui/words/format'
import { apart } from './apart'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{ view: SweepView }>()
const percent = (ratio: number): number => (ratio - 1) * 100
const lines = computed(() =>
  props.view.workloads.map((workload) => ({
    name: workload.name,
    cells: [...props.view.rows]
      .sort((a, b) => a.value - b.value)
      .flatMap((row) => {
        const cell = row.cells.find((one) => one.workload_id === workload.id)
        return cell?.ratio == null
          ? []
          : [{ value: row.value, ratio: cell.ratio, low: cell.low ?? cell.ratio, high: cell.high ?? cell.ratio }]
      }),
  })),
)
const rows = computed(() =>
  lines.value.flatMap((line) => line.cells.map((one) => [line.name, one.value, one.ratio, one.low, one.high])),
)

const HEIGHT = 300
/** How far each line's name is moved from the line's end: where the knob is at stock all lines end at one place. */
const shifts = computed(() => {
  const all = lines.value.flatMap((line) => line.cells.flatMap((one) => [percent(one.low), percent(one.high)]))
  const high = Math.max(...all)
  const pixels = (HEIGHT - 70) / Math.max(high - Math.min(...all), 1e-9)
  const ends = lines.value.map((line) => (high - percent(line.cells.at(-1)?.ratio ?? 1)) * pixels)
  return apart(ends, 16).map((place, i) => place - ends[i]!)
})

const option = computed<EChartsOption>(() => {
  const c = colours.value
  const looks = [c.petrol, c.ochre, c.plum, c.moss, c.orange, c.quiet]
  const dashes = ['solid', 'dashed', 'dotted'] as const
  return {
    animation: false,
    textStyle: chartStyle.value.text,
    grid: { left: 28, right: 140, top: 16, bottom: 26, containLabel: true },
    tooltip: {
      trigger: 'item',
      ...chartStyle.value.tooltip,
      formatter: (item: unknown) => {
        const { seriesName, value } = item as { seriesName: string; value: [number, number] }
        return `${seriesName}, ${knobValue(value[0], props.view.knob.stock)} ${props.view.knob.unit}: ${gain(1 + value[1] / 100)}`
      },
    },
    xAxis: {
      type: 'value',
      scale: true,
      name: `${props.view.knob.name.toLowerCase()}, ${props.view.knob.unit}`,
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
    series: lines.value.flatMap((line, i) => {
      const colour = looks[i % looks.length]!
      return [
        {
          type: 'line' as const,
          name: line.name,
          data: line.cells.map((one) => [one.value, percent(one.ratio)]),
          symbolSize: 6,
          lineStyle: { color: colour, width: 1.6, type: dashes[i % dashes.length] },
          itemStyle: { color: colour },
          endLabel: { show: true, formatter: line.name, color: colour, offset: [0, shifts.value[i]!] },
        },
        {
          type: 'custom' as const,
          silent: true,
          data: line.cells.map((one) => [one.value, percent(one.low), percent(one.high)]),
          renderItem: (_: CustomSeriesRenderItemParams, api: CustomSeriesRenderItemAPI) => {
            const from = api.coord([api.value(0), api.value(1)])
            const to = api.coord([api.value(0), api.value(2)])
            return {
              type: 'line' as const,
              shape: { x1: from[0]!, y1: from[1]!, x2: to[0]!, y2: to[1]! },
              style: { stroke: colour, lineWidth: 1 },
            }
          },
        },
      ]
    }),
  }
})
</script>

<template>
  <DataChart
    name="sweep"
    says="Speed against stock at each value, with its 95 % interval."
    :option="option"
    :height="HEIGHT"
    :headers="['workload', 'value', 'ratio', 'low', 'high']"
    :rows="rows"
  />
</template>
