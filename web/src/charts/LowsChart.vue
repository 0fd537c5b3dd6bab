<!-- Average and lows of the workloads measured as frame rates, as bars in groups. -->
<script setup lang="ts">
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { Workload } from '../api/campaigns'
import type { Side, Versus } from '../api/compare'
import { plain } from '../ui/words/format'
import { hueOf } from '../ui/hues'
import { colours } from '../composables/theme'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{ versus: Versus; workloads: Workload[] }>()

const rated = computed(() =>
  props.workloads.map((workload, index) => ({ workload, index })).filter(({ workload }) => workload.measure === 'frame rate'),
)
const bands = computed(() =>
  rated.value.flatMap(({ workload }) => ['average', '1 % low', '0.1 % low'].map((word) => `${workload.name}\n${word}`)),
)
const heights = (side: Side | undefined): (number | null)[] => [
  side?.summary?.mean ?? null,
  side?.low_1_fps ?? null,
  side?.low_01_fps ?? null,
]
const groups = computed(() => [
  {
    title: `${props.versus.reference_title}, the reference`,
    hue: colours.value.quiet,
    values: rated.value.flatMap(({ index }) => heights(props.versus.reference[index])),
  },
  ...props.versus.candidates.map((candidate) => ({
    title: candidate.short,
    hue: hueOf(candidate.setting_id),
    values: rated.value.flatMap(({ index }) => heights(candidate.column.cells[index]?.side)),
  })),
])

const option = computed<EChartsOption>(() => ({
  animation: false,
  textStyle: chartStyle.value.text,
  grid: { left: 8, right: 8, top: 28, bottom: 8, containLabel: true },
  tooltip: {
    trigger: 'item',
    ...chartStyle.value.tooltip,
    formatter: (item: unknown) => {
      const { seriesName, value } = item as { seriesName: string; value: number }
      return `${seriesName}<br>${plain(value)} fps`
    },
  },
  xAxis: {
    type: 'category',
    data: bands.value,
    ...chartStyle.value.axis,
    axisLabel: { ...chartStyle.value.axis.axisLabel, interval: 0, lineHeight: 16 },
  },
  yAxis: { type: 'value', name: 'fps', ...chartStyle.value.axis },
  series: groups.value.map((group) => ({
    type: 'bar' as const,
    name: group.title,
    data: group.values,
    itemStyle: { color: group.hue },
    barGap: '10%',
  })),
}))
const rows = computed(() =>
  groups.value.flatMap((group) =>
    group.values.map((value, band) => [bands.value[band]?.replace('\n', ', '), group.title, value]),
  ),
)
</script>

<template>
  <p v-if="rated.length === 0" class="quiet">No workload of this campaign is measured as a frame rate.</p>
  <DataChart
    v-else
    name="Average and lows"
    :says="`In each group from the left: ${groups.map((group) => group.title).join('; ')}. No bar: not measured.`"
    :option="option"
    :height="260"
    :headers="['what', 'setting', 'fps']"
    :rows="rows"
  />
</template>
