<!-- The edge over two knobs: what holds at each voltage, where failures reach one an hour, and every run on it. -->
<script setup lang="ts">
import { outcomeFacts } from '../api/registry'
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { PlaneView } from '../api/lab'
import { colours } from '../composables/theme'
import { hoursWords, knobValue, minutesWords, number } from '../ui/words/format'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{ plane: PlaneView }>()
const clock = computed(() => props.plane.clock)
const voltage = computed(() => props.plane.voltage)
const rows = computed(() =>
  props.plane.line.map((one) => [one.voltage, one.hold, one.middle, one.low, one.high, one.risk['0.1'], one.risk['0.01']]),
)
const option = computed<EChartsOption>(() => {
  const c = colours.value
  const line = { type: 'line' as const, showSymbol: false, silent: true }
  const along = (of: (one: PlaneView['line'][number]) => number | null | undefined) =>
    props.plane.line.map((one) => [one.voltage, of(one)] as [number, number])
  const marks = (failed: boolean) =>
    props.plane.marks
      .filter((one) => one.failed === failed)
      .map((one) => ({
        name: `${outcomeFacts(one.outcome).short}, ${minutesWords(one.minutes)}`,
        value: [one.voltage, one.clock],
      }))
  return {
    animation: false,
    textStyle: chartStyle.value.text,
    grid: { left: 28, right: 96, top: 16, bottom: 26, containLabel: true },
    tooltip: {
      trigger: 'item',
      ...chartStyle.value.tooltip,
      formatter: (item: unknown) => {
        const { name, value } = item as { name: string; value: [number, number] }
        return `${knobValue(value[0], voltage.value.stock)} ${voltage.value.unit}, ${knobValue(value[1], clock.value.stock)} ${clock.value.unit}<br>${name}`
      },
    },
    xAxis: {
      type: 'value',
      min: Math.min(...props.plane.line.map((one) => one.voltage)),
      max: Math.max(...props.plane.line.map((one) => one.voltage)),
      inverse: voltage.value.away === -1,
      name: `${voltage.value.name.toLowerCase()}, ${voltage.value.unit}`,
      nameLocation: 'middle',
      nameGap: 28,
      ...chartStyle.value.axis,
      axisLabel: { ...chartStyle.value.axis.axisLabel, formatter: (value: number) => knobValue(value, voltage.value.stock) },
    },
    yAxis: {
      type: 'value',
      scale: true,
      name: `${clock.value.name.toLowerCase()}, ${clock.value.unit}`,
      nameLocation: 'middle',
      nameGap: 52,
      ...chartStyle.value.axis,
      axisLabel: { ...chartStyle.value.axis.axisLabel, formatter: (value: number) => knobValue(value, clock.value.stock) },
    },
    series: [
      {
        ...line,
        data: along((one) => one.low),
        stack: 'band',
        stackStrategy: 'all',
        lineStyle: { opacity: 0 },
        itemStyle: { color: c.orange },
      },
      {
        ...line,
        data: props.plane.line.map((one) => [one.voltage, one.high - one.low]),
        stack: 'band',
        stackStrategy: 'all',
        lineStyle: { opacity: 0 },
        areaStyle: { color: c.orange, opacity: 0.12 },
        itemStyle: { color: c.orange },
      },
      {
        ...line,
        data: along((one) => one.middle),
        lineStyle: { color: c.orange, width: 1.6 },
        itemStyle: { color: c.orange },
        endLabel: { show: true, formatter: '1 an hour', color: c.orange, offset: [0, -7] },
      },
      {
        ...line,
        data: along((one) => one.risk['0.01']),
        lineStyle: { color: c.quiet, width: 1, type: 'dotted' },
        itemStyle: { color: c.quiet },
        endLabel: { show: true, formatter: '1 in 100 h', color: c.quiet, offset: [0, 8] },
      },
      {
        ...line,
        data: along((one) => one.hold),
        lineStyle: { color: c.petrol, width: 2, type: 'dashed' },
        itemStyle: { color: c.petrol },
        endLabel: { show: true, formatter: 'holds', color: c.petrol },
      },
      {
        type: 'scatter',
        symbol: 'circle',
        symbolSize: 8,
        data: marks(false),
        itemStyle: { color: 'transparent', borderColor: c.petrol, borderWidth: 1.6 },
      },
      {
        type: 'scatter',
        symbol: 'path://M0,0L8,8M8,0L0,8',
        symbolSize: 9,
        data: marks(true),
        itemStyle: { color: c.orange, borderColor: c.orange, borderWidth: 2 },
      },
      {
        type: 'scatter',
        symbol: 'triangle',
        symbolSize: 12,
        data: props.plane.next ? [{ name: 'test next', value: [props.plane.next.voltage, props.plane.next.value] }] : [],
        itemStyle: { color: c.ochre },
      },
    ],
  }
})
const says = computed(
  () =>
    `Rings passed, crosses failed. Dashed: what holds (once in ${hoursWords(props.plane.accepted_h)} at most, ${number(100 * props.plane.sure, 0)} % sure), predicted where nothing was run.`,
)
</script>

<template>
  <DataChart
    name="edge over two knobs"
    :says="says"
    :option="option"
    :height="320"
    :headers="['voltage', 'holds', 'one an hour', 'low', 'high', 'one in 10 h', 'one in 100 h']"
    :rows="rows"
  />
</template>
