<!-- A log beside its run: one chart a channel, with what each comes to. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { ref } from 'vue'

import { type Stretch, useSeries } from '../../api/logs'
import type { Run } from '../../api/runs'
import SeriesChart from '../../charts/SeriesChart.vue'
import { number, plain, reading } from '../../ui/words/format'
import LoadState from '../../ui/LoadState.vue'
import HeldBackBand from './HeldBackBand.vue'
import LogRows from './LogRows.vue'

const props = defineProps<{ runId: number; series: Run['series'][number] }>()
const looking = ref(false)
/** The stretch of time that is looked at closely; all charts of the log share it. */
const stretch = ref<Stretch>()
const { data, isPending, error, refetch } = useSeries(() => props.series.id, stretch)

interface ChannelSummary {
  mean: number
  lowest: number
  highest: number
}
interface FrameSummary {
  frames: number
  rate_fps: number
  low_1_fps: number
  low_01_fps: number
  slowest_1_fps: number
  longest_ms: number
  tail_01: number
}

function says(name: string, unit: string): string {
  const summary = props.series.summary as { channels?: Record<string, ChannelSummary>; frames?: FrameSummary }
  if (summary.frames) {
    const f = summary.frames
    return `${f.frames} frames: average ${plain(f.rate_fps)} fps, 1 % low ${plain(f.low_1_fps)}, 0.1 % low ${plain(f.low_01_fps)} (${f.tail_01} frames decide it); mean of the slowest 1 %: ${plain(f.slowest_1_fps)} fps; longest frame ${number(f.longest_ms)} ms.`
  }
  const channel = summary.channels?.[name]
  if (!channel) return ''
  const words = (value: number): string => reading(value, unit)
  return `Mean ${words(channel.mean)}, lowest ${words(channel.lowest)}, highest ${words(channel.highest)}${unit ? ` ${unit}` : ''}.`
}
</script>

<template>
  <section class="log">
    <h2>
      {{ series.file_name }} <span class="quiet rows">{{ series.rows }} rows</span>
      <AButton size="small" class="look-up" :aria-expanded="looking" @click="looking = !looking">{{
        looking ? 'Hide the rows' : 'Look up the rows'
      }}</AButton>
    </h2>
    <LogRows v-if="looking" :run-id="runId" :series-id="series.id" />
    <HeldBackBand :series-id="series.id" :telemetry="series.kind === 'telemetry'" />
    <p class="quiet look">
      <template v-if="stretch">
        {{ number(stretch.from_s, 1) }} to {{ number(stretch.to_s, 1) }} s, in full detail.
        <AButton size="small" @click="stretch = undefined">The whole log</AButton>
      </template>
      <template v-else>Drag across a chart to look at a stretch of it in full detail.</template>
    </p>
    <LoadState :pending="isPending" :error="error" what="The log" @again="refetch">
      <div class="charts">
        <div v-for="channel in data?.channels" :key="channel.name">
          <h3>
            {{ channel.name }} <span class="quiet">{{ channel.quantity }}</span>
          </h3>
          <SeriesChart
            :channel="channel"
            :summary="says(channel.name, channel.unit)"
            :stretch="stretch"
            @look="(wanted) => (stretch = wanted)"
          />
        </div>
      </div>
    </LoadState>
  </section>
</template>

<style scoped>
.log {
  margin-top: 24px;
}
.rows {
  font-size: 13px;
  font-weight: 400;
}
.look-up {
  margin-left: 8px;
}
.look {
  min-height: 24px;
  font-size: 13px;
}
.charts {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 520px), 1fr));
  gap: 16px 32px;
  margin-top: 8px;
}
</style>
