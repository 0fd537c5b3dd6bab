<!-- Chance that a value of the knob holds, along the way from stock; the trials on it, and the hold line. -->
<script setup lang="ts">
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { ClimbView } from '../api/climb'
import { knobValue, number } from '../ui/words/format'
import { holdMark, holdSentence } from '../ui/words/holds'
import { colours } from '../composables/theme'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'
import { gridTicks } from './ticks'

const props = defineProps<{ climb: ClimbView; truth?: number }>()
const knob = computed(() => props.climb.knob)
const words = (value: number): string => `${knobValue(value, knob.value.stock)} ${knob.value.unit}`.trim()
const says = computed(
  () =>
    `${holdSentence(props.climb)}, from ${props.climb.runs_at.reduce((sum, one) => sum + one.runs, 0)} runs. Beyond ${words(props.climb.tested_to)} nothing was tried: the curve goes on by its shape alone.`,
)
const end = computed(() => props.climb.curve.at(-1)?.value ?? knob.value.stock)
const ticks = computed(() => gridTicks(knob.value.stock, end.value, knob.value.step))
/** Near the axis the words of the hold line would leave the picture. */
const holdsNear = computed(() => Math.abs(props.climb.hold - knob.value.stock) < 0.2 * Math.abs(end.value - knob.value.stock))
const rows = computed(() =>
  props.climb.curve.map((point) => [point.value, point.holds, point.per_h, point.low_per_h, point.high_per_h]),
)

const option = computed<EChartsOption>(() => {
  const c = colours.value
  const tried = (value: number): boolean => (value - props.climb.tested_to) * knob.value.away <= 0
  const line = (part: (value: number) => boolean, type: 'solid' | 'dashed') => ({
    type: 'line' as const,
    showSymbol: false,
    silent: true,
    z: 2,
    data: props.climb.curve.map((point) => [point.value, part(point.value) ? 100 * point.holds : null]),
    lineStyle: { color: c.petrol, width: 2, type },
    itemStyle: { color: c.petrol },
  })
  return {
    animation: false,
    textStyle: chartStyle.value.text,
    grid: { left: 24, right: 24, top: 28, bottom: 26, containLabel: true },
    tooltip: {
      trigger: 'axis',
      ...chartStyle.value.tooltip,
      formatter: (items: unknown) => {
        const [first] = items as { value: [number, number] }[]
        const point = props.climb.curve.find((one) => one.value === first?.value[0])
        return point
          ? `${words(point.value)}: holds with ${number(100 * point.holds, 0)} %<br>failures an hour ${point.per_h.toPrecision(2)} (${point.low_per_h.toPrecision(2)} to ${point.high_per_h.toPrecision(2)})`
          : ''
      },
    },
    xAxis: {
      type: 'value',
      min: Math.min(knob.value.stock, end.value),
      max: Math.max(knob.value.stock, end.value),
      inverse: knob.value.away === -1,
      name: `${knob.value.name.toLowerCase()}, ${knob.value.unit}`,
      nameLocation: 'middle',
      nameGap: 28,
      ...chartStyle.value.axis,
      splitLine: { show: false },
      axisTick: { ...chartStyle.value.axis.axisTick, customValues: ticks.value },
      axisLabel: {
        ...chartStyle.value.axis.axisLabel,
        customValues: ticks.value,
        formatter: (value: number) => knobValue(value, knob.value.stock),
      },
    },
    yAxis: {
      type: 'value',
      min: 0,
      max: 100,
      interval: 25,
      name: 'chance that it holds, %',
      nameLocation: 'middle',
      nameGap: 36,
      ...chartStyle.value.axis,
    },
    series: [
      {
        ...line(tried, 'solid'),
        markLine: {
          silent: true,
          symbol: 'none',
          lineStyle: { color: c.ochre, width: 1.6, type: 'solid' },
          data: [
            { xAxis: props.climb.hold },
            ...(props.truth === undefined
              ? []
              : [
                  {
                    xAxis: props.truth,
                    lineStyle: { color: c.ink, type: 'dashed' as const, width: 1.2 },
                    label: {
                      formatter: 'true edge',
                      color: c.ink,
                      position: 'end' as const,
                      align: props.truth > props.climb.hold === (knob.value.away === 1) ? ('left' as const) : ('right' as const),
                      distance: 4,
                    },
                  },
                ]),
          ],
          label: {
            formatter: holdMark(props.climb),
            color: c.ochre,
            position: 'end',
            align: holdsNear.value ? 'left' : 'center',
            distance: 4,
          },
        },
      },
      line((value) => !tried(value) || value === props.climb.tested_to, 'dashed'),
      // what was run: filled where it held, hollow where it failed; the longer, the larger
      {
        type: 'scatter',
        z: 3,
        data: props.climb.trials.map((trial) => ({
          value: [trial.value, trial.failed ? 4 : 96],
          symbol: 'diamond',
          symbolSize: 7 + 2 * Math.log2(1 + trial.minutes),
          itemStyle: {
            color: trial.failed ? c.sheet : c.petrol,
            borderColor: trial.failed ? c.orange : c.petrol,
            borderWidth: 1.6,
          },
        })),
      },
    ],
  }
})
</script>

<template>
  <DataChart
    :name="`Chance to hold, ${knob.name.toLowerCase()}`"
    :says="says"
    :option="option"
    :height="230"
    :headers="['value', 'chance_to_hold', 'failures_per_h', 'low', 'high']"
    :rows="rows"
  />
</template>
