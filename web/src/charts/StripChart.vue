<!-- One quantity of a live run along the run's time: a strip with its newest reading, and the safety limits drawn in. -->
<script setup lang="ts">
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'
import VChart from 'vue-echarts'

import { reading } from '../ui/words/format'
import type { Points } from '../features/live/useLiveStream'
import { colours } from '../composables/theme'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{
  name: string
  unit: string
  channels: Points[]
  safetyLimits: number[]
  plannedS: number
  last?: boolean
}>()

const words = (value: number): string => reading(value, props.unit)
const newest = computed(() => props.channels.map((channel) => ({ name: channel.name, value: channel.values.at(-1) })))
const strokes = computed(() => [colours.value.petrol, colours.value.ochre, colours.value.plum, colours.value.moss])
const says = computed(
  () =>
    `${props.name}: ${newest.value.map((one) => `${one.name} ${one.value === undefined ? 'not read yet' : words(one.value)} ${props.unit}`).join(', ')}`,
)

/** A safety limit under the readings (a fan's floor) has its words above the line, one over them below. */
const safetyLimitBelow = computed(() => (props.safetyLimits[0] ?? 0) < (newest.value[0]?.value ?? 0))

const option = computed<EChartsOption>(() => ({
  animation: false,
  textStyle: chartStyle.value.text,
  grid: { left: 52, right: 8, top: 6, bottom: props.last ? 38 : 6 },
  tooltip: {
    trigger: 'axis',
    ...chartStyle.value.tooltip,
    formatter: (items: unknown) => {
      const found = items as { seriesName: string; value: [number, number] }[]
      return found.length
        ? `${found[0]!.value[0].toFixed(1)} s<br>${found.map((item) => `${item.seriesName}: ${words(item.value[1])} ${props.unit}`).join('<br>')}`
        : ''
    },
  },
  xAxis: {
    type: 'value',
    min: 0,
    max: props.plannedS,
    ...chartStyle.value.axis,
    name: props.last ? 'run time, s' : '',
    nameLocation: 'middle',
    nameGap: 24,
    axisLabel: { ...chartStyle.value.axis.axisLabel, show: props.last },
    axisTick: { show: props.last },
    splitLine: { show: false },
  },
  yAxis: {
    type: 'value',
    scale: true,
    splitNumber: 2,
    ...chartStyle.value.axis,
    axisLabel: { ...chartStyle.value.axis.axisLabel, hideOverlap: true, showMinLabel: false, showMaxLabel: false },
    // the safety limit is part of the picture only when readings come near it
    min: (range: { min: number; max: number }) => bounds(range).min,
    max: (range: { min: number; max: number }) => bounds(range).max,
  },
  series: props.channels.map((channel, index) => ({
    name: channel.name,
    type: 'line',
    data: channel.time_s.map((time, i) => [time, channel.values[i]!]),
    showSymbol: false,
    connectNulls: true,
    lineStyle: { color: strokes.value[index % 4], width: 1.4, type: index === 0 ? 'solid' : 'dashed' },
    itemStyle: { color: strokes.value[index % 4] },
    markLine:
      index > 0
        ? undefined
        : {
            silent: true,
            symbol: 'none',
            data: props.safetyLimits.map((limit) => ({ yAxis: limit })),
            lineStyle: { color: colours.value.orange, width: 1.6, type: 'solid' },
            label: {
              position: safetyLimitBelow.value ? 'insideStartTop' : 'insideStartBottom',
              color: colours.value.orange,
              formatter: (item: { value?: unknown }) => `safety limit ${words(Number(item.value))} ${props.unit}`,
            },
          },
  })),
}))

function bounds(range: { min: number; max: number }): { min: number; max: number } {
  const all = [range.min, range.max, ...props.safetyLimits].filter(Number.isFinite)
  const low = Math.min(...all)
  const high = Math.max(...all)
  const room = (high - low || Math.abs(high) || 1) * 0.08
  return { min: tidy(low - room), max: tidy(high + room) }
}
const tidy = (value: number): number => Number(value.toPrecision(3))
</script>

<template>
  <div class="strip" role="group" :aria-label="says" :data-strip="name">
    <VChart :option="option" autoresize :class="['chart', { last }]" role="img" :aria-label="says" />
    <div class="now">
      <span class="quiet name">{{ name }}</span>
      <span v-for="(one, index) in newest" :key="one.name" class="reading">
        <span class="figure value">{{ one.value === undefined ? '–' : words(one.value) }}</span> {{ unit }}
        <span
          v-if="newest.length > 1"
          class="quiet who"
          :style="{ borderBottom: `2px ${index === 0 ? 'solid' : 'dashed'} ${strokes[index % 4]}` }"
          >{{ one.name }}</span
        >
      </span>
    </div>
  </div>
</template>

<style scoped>
.strip {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 200px;
  gap: 16px;
  border-bottom: 1px solid var(--rule);
}
.chart {
  height: 84px;
}
.chart.last {
  height: 116px;
}
.now {
  display: flex;
  flex-direction: column;
  justify-content: center;
  line-height: 18px;
}
.name {
  font-size: 13px;
}
.value {
  font-size: 16px;
  font-weight: 700;
}
.who {
  font-size: 12px;
}
@media (max-width: 860px) {
  .strip {
    grid-template-columns: minmax(0, 1fr) 168px;
  }
}
</style>
