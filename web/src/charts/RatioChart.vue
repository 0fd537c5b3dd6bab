<!-- Ratios with their intervals on a log axis, one band a workload, the reference as a dashed line. -->
<script setup lang="ts">
import type { CustomSeriesRenderItemAPI, CustomSeriesRenderItemParams, EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { Workload } from '../api/campaigns'
import type { Versus } from '../api/compare'
import type { Comparison } from '../api/ladder'
import { gain, gainRange } from '../ui/words/format'
import { hueOf } from '../ui/hues'
import { colours } from '../composables/theme'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{ versus: Versus; workloads: Workload[] }>()

const bands = computed(() => [...props.workloads.map((workload) => workload.name), 'Overall'])
const lines = computed(() =>
  props.versus.candidates.map((candidate, order) => ({
    title: candidate.short,
    hue: hueOf(candidate.setting_id),
    offset: (order - (props.versus.candidates.length - 1) / 2) * 11,
    results: [...candidate.column.cells.map((cell) => cell.comparison), candidate.column.overall] as (Comparison | null)[],
  })),
)
const range = computed(() => {
  const all = lines.value.flatMap((line) =>
    line.results.flatMap((one) => (one ? [one.low ?? one.ratio, one.high ?? one.ratio] : [])),
  )
  const low = Math.min(1, ...all)
  const high = Math.max(1, ...all)
  const margin = (high / low) ** 0.06
  return { min: low / margin, max: high * margin }
})

/** Round percentages inside the range, at most eight, the reference among them. */
const ticks = computed(() => {
  const { min, max } = range.value
  const step = [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1].find((size) => (max - min) / size <= 8) ?? 2
  const first = Math.ceil((min - 1) / step)
  return Array.from({ length: Math.floor((max - 1) / step) - first + 1 }, (_, i) => 1 + (first + i) * step)
})
const tickWords = (ratio: number): string =>
  Math.abs(ratio - 1) < 1e-6 ? 'reference' : gain(ratio, Math.abs(ratio * 100 - Math.round(ratio * 100)) < 0.05 ? 0 : 1)

const option = computed<EChartsOption>(() => ({
  animation: false,
  textStyle: chartStyle.value.text,
  grid: { left: 8, right: 24, top: 8, bottom: 28, containLabel: true },
  tooltip: {
    trigger: 'item',
    ...chartStyle.value.tooltip,
    formatter: (item: unknown) => {
      const { seriesIndex, dataIndex } = item as { seriesIndex: number; dataIndex: number }
      const line = lines.value[seriesIndex]
      const one = line?.results[dataIndex]
      if (!line || !one) return ''
      return `${line.title}<br>${gain(one.ratio)}${one.low != null && one.high != null ? `, ${gainRange(one.low, one.high)}` : ''}`
    },
  },
  xAxis: {
    type: 'value',
    min: Math.log(range.value.min),
    max: Math.log(range.value.max),
    name: 'ratio to the reference, log axis',
    nameLocation: 'middle',
    nameGap: 26,
    ...chartStyle.value.axis,
    axisTick: { customValues: ticks.value.map(Math.log) },
    splitLine: { show: false },
    axisLabel: {
      ...chartStyle.value.axis.axisLabel,
      customValues: ticks.value.map(Math.log),
      formatter: (log: number) => tickWords(Math.exp(log)),
    },
  },
  yAxis: {
    type: 'category',
    data: bands.value,
    inverse: true,
    ...chartStyle.value.axis,
    axisLine: { ...chartStyle.value.axis.axisLine, onZero: false },
    axisLabel: { ...chartStyle.value.axis.axisLabel, color: colours.value.ink },
    splitLine: { show: true, lineStyle: { color: colours.value.rule } },
  },
  series: lines.value.map((line, index) => ({
    type: 'custom' as const,
    name: line.title,
    data: line.results.map((one, band) =>
      one ? [Math.log(one.ratio), band, Math.log(one.low ?? one.ratio), Math.log(one.high ?? one.ratio)] : [NaN, band, NaN, NaN],
    ),
    encode: { x: [0, 2, 3], y: 1 },
    renderItem: (_: CustomSeriesRenderItemParams, api: CustomSeriesRenderItemAPI) => {
      if (Number.isNaN(api.value(0))) return null
      const [low, high, mean] = [2, 3, 0].map((at) => api.coord([api.value(at), api.value(1)])) as [number[], number[], number[]]
      const y = mean[1]! + line.offset
      const style = { stroke: line.hue, lineWidth: 2, fill: line.hue }
      return {
        type: 'group' as const,
        children: [
          { type: 'line' as const, shape: { x1: low[0]!, y1: y, x2: high[0]!, y2: y }, style },
          { type: 'line' as const, shape: { x1: low[0]!, y1: y - 4, x2: low[0]!, y2: y + 4 }, style },
          { type: 'line' as const, shape: { x1: high[0]!, y1: y - 4, x2: high[0]!, y2: y + 4 }, style },
          { type: 'rect' as const, shape: { x: mean[0]! - 2.5, y: y - 5, width: 5, height: 10 }, style },
        ],
      }
    },
    markLine:
      index === 0
        ? {
            silent: true,
            symbol: 'none',
            label: { show: false },
            lineStyle: { color: colours.value.quiet, type: 'dashed' as const },
            data: [{ xAxis: 0 }],
          }
        : undefined,
  })),
}))

const says = computed(
  () =>
    `Each bar is a 95 % interval. ${lines.value.length > 1 ? 'In each band from the top: ' + lines.value.map((line) => line.title).join('; ') + '.' : ''}`,
)
const rows = computed(() =>
  lines.value.flatMap((line) =>
    line.results.map((one, band) => [bands.value[band], line.title, one?.ratio, one?.low, one?.high]),
  ),
)
</script>

<template>
  <DataChart
    name="Ratios"
    :says="says"
    :option="option"
    :height="70 + bands.length * Math.max(40, versus.candidates.length * 15)"
    :headers="['workload', 'setting', 'ratio', 'low', 'high']"
    :rows="rows"
  />
</template>
