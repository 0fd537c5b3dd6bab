<!-- A part's temperature over a run: readings, the fit, and where it goes from here with its interval. -->
<script setup lang="ts">
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { HeatTrace } from '../api/lab'
import { colours } from '../composables/theme'
import { number } from '../ui/words/format'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{ trace: HeatTrace; limitC?: number | null }>()
const minutes = (seconds: number): number => seconds / 60
const end = computed(() => minutes(props.trace.time_s.at(-1) ?? 0))
const way = computed(() => props.trace.way_s.map((time, i) => [minutes(time), props.trace.way_c[i]!] as [number, number]))
const rows = computed(() => [
  ...props.trace.time_s.map((time, i) => [time, props.trace.temp_c[i]!, null, null, null]),
  ...props.trace.way_s.map((time, i) => [time, null, props.trace.way_c[i]!, props.trace.low_c[i]!, props.trace.high_c[i]!]),
])

const option = computed<EChartsOption>(() => {
  const c = colours.value
  const line = { type: 'line' as const, showSymbol: false, silent: true }
  const ahead = (values: number[]): [number, number][] =>
    props.trace.way_s.map((time, i) => [minutes(time), values[i]!] as [number, number]).filter(([at]) => at >= end.value)
  const low = ahead(props.trace.low_c)
  const high = ahead(props.trace.high_c)
  return {
    animation: false,
    textStyle: chartStyle.value.text,
    grid: { left: 8, right: 24, top: 28, bottom: 24, containLabel: true },
    tooltip: {
      trigger: 'axis',
      ...chartStyle.value.tooltip,
      formatter: (items: unknown) => {
        const [first] = items as { value: [number, number] }[]
        return first ? `${number(first.value[0], 1)} min: ${number(first.value[1], 1)} °C` : ''
      },
    },
    xAxis: {
      type: 'value',
      min: 0,
      name: 'time under load, min',
      nameLocation: 'middle',
      nameGap: 26,
      ...chartStyle.value.axis,
      splitLine: { show: false },
    },
    yAxis: { type: 'value', scale: true, name: '°C', ...chartStyle.value.axis },
    series: [
      { ...line, data: low, stack: 'band', lineStyle: { opacity: 0 }, itemStyle: { color: c.petrol } },
      {
        ...line,
        data: high.map(([at, value], i) => [at, value - low[i]![1]]),
        stack: 'band',
        lineStyle: { opacity: 0 },
        areaStyle: { color: c.petrol, opacity: 0.14 },
        itemStyle: { color: c.petrol },
      },
      {
        ...line,
        silent: false,
        data: props.trace.time_s.map((time, i) => [minutes(time), props.trace.temp_c[i]!]),
        lineStyle: { color: c.quiet, width: 1 },
        itemStyle: { color: c.quiet },
        markLine: {
          silent: true,
          symbol: 'none',
          data: [
            ...(props.trace.way_s.length
              ? [{ xAxis: end.value, label: { formatter: 'end of the log', color: c.quiet, position: 'insideEndTop' as const } }]
              : []),
            ...(props.limitC != null && Math.max(...props.trace.high_c, 0) > props.limitC - 12
              ? [{ yAxis: props.limitC, label: { formatter: 'limit', color: c.orange, position: 'insideEndTop' as const } }]
              : []),
          ],
          lineStyle: { color: c.quiet, type: 'dotted', width: 1 },
        },
      },
      {
        ...line,
        data: way.value.filter(([at]) => at <= end.value),
        lineStyle: { color: c.petrol, width: 2 },
        itemStyle: { color: c.petrol },
      },
      {
        ...line,
        data: way.value.filter(([at]) => at >= end.value - 0.5),
        lineStyle: { color: c.petrol, width: 2, type: 'dashed' },
        itemStyle: { color: c.petrol },
      },
    ],
  }
})
</script>

<template>
  <DataChart
    name="heat"
    says="Grey: as read. Line: the fit. Dashed: how it goes on, with the band that holds it 95 times in 100."
    :option="option"
    :height="300"
    :headers="['time_s', 'read °C', 'fit °C', 'low °C', 'high °C']"
    :rows="rows"
  />
</template>
