<!-- Who gets the watts: a bar a setting, in parts. -->
<script setup lang="ts">
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { BudgetView } from '../api/lab'
import { colours } from '../composables/theme'
import { gain, number } from '../ui/words/format'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{ view: BudgetView; workloadId: number }>()
const cells = computed(() =>
  props.view.rows.flatMap((row) => {
    const cell = row.cells.find((one) => one.workload_id === props.workloadId)
    return cell ? [{ title: row.title, ...cell }] : []
  }),
)
const rows = computed(() => cells.value.map((one) => [one.title, one.first_w, one.second_w, one.rest_w, one.ratio]))

const option = computed<EChartsOption>(() => {
  const c = colours.value
  const parts = [
    { name: 'processor', colour: c.petrol, ink: c.sheet, of: (i: number) => cells.value[i]!.first_w },
    { name: 'graphics', colour: c.ochre, ink: c.sheet, of: (i: number) => cells.value[i]!.second_w },
    { name: 'the rest', colour: c.rule, ink: c.ink, of: (i: number) => cells.value[i]!.rest_w ?? 0 },
  ]
  return {
    animation: false,
    textStyle: chartStyle.value.text,
    grid: { left: 12, right: 150, top: 28, bottom: 36, containLabel: true },
    tooltip: {
      trigger: 'item',
      ...chartStyle.value.tooltip,
      formatter: (item: unknown) => {
        const { seriesName, name, value } = item as { seriesName: string; name: string; value: number }
        return `${name}<br>${seriesName}: ${number(value, 1)} W`
      },
    },
    xAxis: { type: 'value', name: 'mean power, W', nameLocation: 'middle', nameGap: 24, ...chartStyle.value.axis },
    yAxis: {
      type: 'category',
      inverse: true,
      data: cells.value.map((one) => one.title),
      ...chartStyle.value.axis,
      axisLabel: { ...chartStyle.value.axis.axisLabel, width: 210, overflow: 'break', lineHeight: 14 },
    },
    series: parts.map((part, at) => ({
      type: 'bar' as const,
      name: part.name,
      stack: 'watts',
      barWidth: 16,
      itemStyle: { color: part.colour },
      label: {
        show: true,
        color: part.ink,
        position: at === 2 ? ('right' as const) : ('inside' as const),
        formatter: (item: { dataIndex: number }) => (at === 2 ? behind(item.dataIndex) : within(part, item.dataIndex)),
      },
      data: cells.value.map((_, i) => part.of(i)),
    })),
  }
})

/** Watts in a bar's part, named in the first bar; nothing where there is no room for them. */
function within(part: { name: string; of: (i: number) => number }, i: number): string {
  const watts = part.of(i)
  if (watts < 2.5) return ''
  return i === 0 && watts > 8 ? `${part.name} ${number(watts, 0)} W` : number(watts, 0)
}

/** Behind the bar: its speed. */
function behind(i: number): string {
  const ratio = cells.value[i]!.ratio
  const words = ratio == null ? '' : gain(ratio)
  return i === 0 ? `the rest ${number(cells.value[i]!.rest_w ?? 0, 0)} W; speed ${words}` : words
}
</script>

<template>
  <DataChart
    name="budget"
    says="Watts of each part at each setting; behind the bar, speed against stock."
    :option="option"
    :height="62 + 27 * cells.length"
    :headers="['setting', 'processor W', 'graphics W', 'rest W', 'speed ratio']"
    :rows="rows"
  />
</template>
