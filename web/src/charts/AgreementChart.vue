<!-- Differences of two instruments over their level, with the mean difference and the limits of agreement. -->
<script setup lang="ts">
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { Schemas } from '../api/client'
import { colours } from '../composables/theme'
import { signed } from '../ui/words/format'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{ pairs: Schemas['Pair'][]; agreement: Schemas['Agreement']; unit: string }>()

const option = computed((): EChartsOption => {
  const line = (at: number | null, label: string, type: 'solid' | 'dashed') =>
    at === null
      ? []
      : [
          {
            yAxis: at,
            name: label,
            lineStyle: { type, color: colours.value.petrol },
            label: {
              formatter: `${label} ${signed(at, 1)}`,
              position: 'insideEndTop' as const,
              color: colours.value.ink,
              backgroundColor: colours.value.sheet,
            },
          },
        ]
  return {
    grid: { left: 64, right: 24, top: 24, bottom: 48 },
    xAxis: {
      type: 'value',
      scale: true,
      name: `mean of both, ${props.unit}`,
      nameLocation: 'middle',
      nameGap: 30,
      ...chartStyle.value.axis,
    },
    yAxis: {
      type: 'value',
      scale: true,
      // the limits lie within the drawing, however near the pairs are
      min: ({ min }: { min: number }) => Math.floor(Math.min(min, props.agreement.low ?? min)),
      max: ({ max }: { max: number }) => Math.ceil(Math.max(max, props.agreement.high ?? max)),
      name: `first less second, ${props.unit}`,
      nameLocation: 'middle',
      nameGap: 44,
      ...chartStyle.value.axis,
    },
    series: [
      {
        type: 'scatter',
        symbolSize: props.pairs.length > 60 ? 5 : 8,
        itemStyle: { color: colours.value.ink },
        data: props.pairs.map((pair) => [(pair.first + pair.second) / 2, pair.first - pair.second]),
        markLine: {
          symbol: 'none',
          silent: true,
          data: [
            ...line(props.agreement.bias, 'mean', 'solid'),
            ...line(props.agreement.low, 'limit', 'dashed'),
            ...line(props.agreement.high, 'limit', 'dashed'),
          ],
        },
      },
    ],
  }
})
</script>

<template>
  <DataChart
    name="Agreement"
    :says="agreement.says.text"
    :option="option"
    :height="260"
    :headers="['run', 'from s', 'first', 'second']"
    :rows="pairs.map((pair) => [pair.run_id, pair.at_s, pair.first, pair.second])"
  />
</template>
