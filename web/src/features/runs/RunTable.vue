<!-- Runs in full, with what can be done about each. -->
<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import { outcomeFacts } from '../../api/registry'
import type { Run } from '../../api/runs'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import type { Column } from '../../ui/columns'
import DataTable from '../../ui/DataTable.vue'
import { moment, number, plain } from '../../ui/words/format'
import { read, readBy } from './figures'
import SetAside from './SetAside.vue'

const props = defineProps<{ runs: Run[]; name: string; withSetting?: boolean; withWorkload?: boolean }>()

const isLive = (run: Run): boolean => run.live_state === 'open'
const showLows = computed(() => props.runs.some((run) => read(run, 'low_1_fps') != null))
const reading = (key: string, title: string, unit: string, word: string, decimals: number): Column<Run> => ({
  key,
  title,
  unit,
  number: true,
  value: (run) => read(run, word),
  text: (run) => number(read(run, word), decimals),
})
const onlyCopied = (key: string, value: Column<Run>['value']): Column<Run> => ({ key, title: key, value, onlyCopied: true })
const columns = computed<Column<Run>[]>(() => [
  { key: 'outcome', title: 'Ended', value: (run) => run.outcome },
  { key: 'workload', title: 'Workload', value: (run) => run.workload_name, onlyCopied: !props.withWorkload },
  { key: 'setting', title: 'Setting', value: (run) => run.setting_title, onlyCopied: !props.withSetting },
  { key: 'value', title: 'Result', number: true, value: (run) => run.value },
  onlyCopied('unit', (run) => run.unit),
  ...(showLows.value
    ? [reading('low_1', '1 % low', 'fps', 'low_1_fps', 1), reading('low_01', '0.1 % low', 'fps', 'low_01_fps', 1)]
    : []),
  reading('core', 'Core clock', 'MHz', 'core_mhz', 0),
  reading('power', 'Power', 'W', 'power_w', 0),
  onlyCopied('power read by', (run) => readBy(run, 'power_w')),
  reading('temp', 'Highest', '°C', 'temp_max_c', 1),
  reading('room', 'Room', '°C', 'room_c', 1),
  { key: 'started', title: 'When', value: (run) => run.started_at },
  onlyCopied('set aside', (run) => run.set_aside_reason),
  onlyCopied('note', (run) => run.note),
  { key: 'acts', title: '', value: () => null },
])
</script>

<template>
  <DataTable
    :name="name"
    :rows="runs"
    :columns="columns"
    :row-key="(run) => run.id"
    :row-class="(run) => ({ aside: run.set_aside_at })"
  >
    <template #outcome="{ row: run }">
      <span class="ended"
        ><OutcomeMark :outcome="run.outcome" :set-aside="!!run.set_aside_at" :running="isLive(run)" />
        {{ isLive(run) ? 'Running' : outcomeFacts(run.outcome).short }}</span
      >
    </template>
    <template #value="{ row: run }">
      {{ plain(run.value) }} <span class="quiet">{{ run.value != null ? run.unit : '' }}</span>
    </template>
    <template #power="{ row: run }">
      <span :title="readBy(run, 'power_w') || 'who read it was not noted'">{{ number(read(run, 'power_w'), 0) }}</span>
    </template>
    <template #started="{ row: run }">
      <span class="quiet small"
        >{{ moment(run.started_at) }}
        <span v-if="run.set_aside_reason" class="words">Set aside: {{ run.set_aside_reason }}</span>
        <span v-if="run.note" class="words">{{ run.note }}</span></span
      >
    </template>
    <template #acts="{ row: run }">
      <span class="acts"
        ><RouterLink :to="{ name: 'run', params: { id: run.id } }">{{
          run.series.length ? 'Open, with log' : 'Open'
        }}</RouterLink>
        <SetAside :run-id="run.id" :aside="!!run.set_aside_at"
      /></span>
    </template>
  </DataTable>
</template>

<style scoped>
.ended,
.acts {
  white-space: nowrap;
}
.words {
  display: block;
}
:deep(.aside td) {
  color: var(--quiet);
}
</style>
