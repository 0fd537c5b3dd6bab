<!-- Repeats of one workload as points in the order they were run, with mean and interval. -->
<script setup lang="ts">
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { BaselineOfWorkload } from '../api/baseline'
import { plain } from '../ui/words/format'
import { colours } from '../composables/theme'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{ baseline: BaselineOfWorkload; name: string; unit: string }>()

const measured = computed(() => props.baseline.runs.filter((run) => run.value != null))
const counted = computed(() => measured.value.filter((run) => !run.set_aside && run.outcome === 'completed'))

const says = computed(() => {
  const s = props.baseline.summary
  if (!s) return 'No run counts yet.'
  if (s.low == null || s.high == null) return `One run at ${plain(s.mean)} ${props.unit}; its noise is not known yet.`
  return `Line: mean; band: 95 % interval of the mean, ${plain(s.low)} to ${plain(s.high)} ${props.unit}. Hollow: set aside.`
})

const option = computed<EChartsOption>(() => {
  const c = colours.value
  const s = props.baseline.summary
  const point = (index: number): [number, number] => [index, measured.value[index]!.value!]
  const kept = measured.value.flatMap((run, index) => (counted.value.includes(run) ? [point(index)] : []))
  const aside = measured.value.flatMap((run, index) => (counted.value.includes(run) ? [] : [point(index)]))
  return {
    animation: false,
    textStyle: chartStyle.value.text,
    grid: { left: 8, right: 16, top: 28, bottom: 4, containLabel: true },
    tooltip: {
      trigger: 'item',
      ...chartStyle.value.tooltip,
      formatter: (p: unknown) => {
        const [order, value] = (p as { value: [number, number] }).value
        return `run ${order + 1}: ${plain(value)} ${props.unit}`
      },
    },
    xAxis: { type: 'category', data: measured.value.map((_, index) => `run ${index + 1}`), ...chartStyle.value.axis },
    yAxis: { type: 'value', scale: true, name: props.unit, splitNumber: 3, ...chartStyle.value.axis },
    series: [
      {
        type: 'scatter',
        data: kept,
        symbol: 'diamond',
        symbolSize: 12,
        itemStyle: { color: c.petrol },
        markLine: s
          ? {
              silent: true,
              symbol: 'none',
              label: { formatter: 'mean', position: 'insideEndTop', color: c.petrol },
              lineStyle: { color: c.petrol, type: 'solid', width: 1.5 },
              data: [{ yAxis: s.mean }],
            }
          : undefined,
        markArea:
          s?.low != null && s.high != null
            ? { silent: true, itemStyle: { color: c.petrol, opacity: 0.1 }, data: [[{ yAxis: s.low }, { yAxis: s.high }]] }
            : undefined,
      },
      {
        type: 'scatter',
        data: aside,
        symbol: 'diamond',
        symbolSize: 12,
        itemStyle: { color: 'transparent', borderColor: c.quiet, borderWidth: 1.5 },
      },
    ],
  }
})

const rows = computed(() => measured.value.map((run, index) => [index + 1, run.value, run.set_aside ? 'set aside' : run.outcome]))
</script>

<template>
  <DataChart
    :name="`${name} at stock`"
    :says="says"
    :option="option"
    :height="150"
    :headers="['run', unit, 'state']"
    :rows="rows"
  />
</template>
