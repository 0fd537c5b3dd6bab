<!-- One channel of a kept log over the time of its run. -->
<script setup lang="ts">
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { ChannelPoints, Stretch } from '../api/logs'
import { plain } from '../ui/words/format'
import { colours } from '../composables/theme'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{ channel: ChannelPoints; summary: string; stretch?: Stretch }>()
const emit = defineEmits<{ look: [stretch: Stretch] }>()

/** What was dragged across, if it is more than a slip of the hand. */
function look(areas: { coordRange: [number, number] }[]): void {
  const [from, to] = areas[0]?.coordRange ?? [0, 0]
  if (to - from > 0.05) emit('look', { from_s: Math.max(0, from), to_s: to })
}

const points = computed(() => props.channel.time_s.map((time, index) => [time, props.channel.values[index]!]))

const option = computed<EChartsOption>(() => ({
  animation: false,
  textStyle: chartStyle.value.text,
  grid: { left: 8, right: 24, top: 28, bottom: 24, containLabel: true },
  tooltip: {
    trigger: 'axis',
    ...chartStyle.value.tooltip,
    formatter: (items: unknown) => {
      const [first] = items as { value: [number, number] }[]
      return first ? `${first.value[0].toFixed(1)} s: ${plain(first.value[1])} ${props.channel.unit}` : ''
    },
  },
  brush: {
    xAxisIndex: 0,
    brushType: 'lineX',
    brushMode: 'single',
    transformable: false,
    brushStyle: { color: colours.value.wash, borderColor: colours.value.petrol, borderWidth: 1 },
  },
  xAxis: {
    type: 'value',
    min: props.stretch?.from_s ?? 'dataMin',
    max: props.stretch?.to_s ?? 'dataMax',
    name: 'time, s',
    nameLocation: 'middle',
    nameGap: 26,
    ...chartStyle.value.axis,
    splitLine: { show: false },
  },
  yAxis: { type: 'value', scale: true, name: props.channel.unit || 'as logged', splitNumber: 4, ...chartStyle.value.axis },
  series: [
    {
      type: 'line',
      data: points.value,
      showSymbol: false,
      lineStyle: { color: colours.value.petrol, width: 1.2 },
      itemStyle: { color: colours.value.petrol },
    },
  ],
}))
</script>

<template>
  <DataChart
    :name="channel.name"
    :says="summary"
    :option="option"
    :height="200"
    :headers="['time_s', `${channel.name} ${channel.unit}`]"
    :rows="points"
    brushable
    @brushed="look"
  />
</template>
