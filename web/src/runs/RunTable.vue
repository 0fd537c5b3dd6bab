<!-- Runs in full, with what can be done about each. -->
<script setup lang="ts">
import { outcomeFacts } from '../api/registry'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import type { Run } from '../api/runs'
import { moment, number, plain } from '../words/format'
import { read, readBy } from './figures'
import OutcomeMark from '../parts/OutcomeMark.vue'
import TableTools from '../parts/TableTools.vue'
import SetAside from './SetAside.vue'

const props = defineProps<{ runs: Run[]; name: string; withSetting?: boolean; withWorkload?: boolean }>()

const isLive = (run: Run): boolean => run.live_state === 'open'
const showLows = computed(() => props.runs.some((run) => read(run, 'low_1_fps') != null))
const headers = [
  'started',
  'setting',
  'workload',
  'outcome',
  'value',
  'unit',
  'low_1_fps',
  'low_01_fps',
  'core_mhz',
  'power_w',
  'power_read_by',
  'temp_max_c',
  'room_c',
  'set_aside',
  'note',
]
const rows = computed(() =>
  props.runs.map((run) => [
    run.started_at,
    run.setting_title,
    run.workload_name,
    run.outcome,
    run.value,
    run.unit,
    read(run, 'low_1_fps'),
    read(run, 'low_01_fps'),
    read(run, 'core_mhz'),
    read(run, 'power_w'),
    readBy(run, 'power_w'),
    read(run, 'temp_max_c'),
    read(run, 'room_c'),
    run.set_aside_reason,
    run.note,
  ]),
)
</script>

<template>
  <div class="scroll-x">
    <table class="ledger">
      <thead>
        <tr>
          <th>Ended</th>
          <th v-if="withWorkload">Workload</th>
          <th v-if="withSetting">Setting</th>
          <th class="number">Result</th>
          <th v-if="showLows" class="number">1 % low</th>
          <th class="number">Core clock</th>
          <th class="number">Power</th>
          <th class="number">Highest</th>
          <th class="number">Room</th>
          <th>When</th>
          <th><TableTools :name="name" :headers="headers" :rows="rows" /></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="run in runs" :key="run.id" :class="{ aside: run.set_aside_at }">
          <td class="ended">
            <OutcomeMark :outcome="run.outcome" :set-aside="!!run.set_aside_at" :running="isLive(run)" />
            {{ isLive(run) ? 'Running' : outcomeFacts(run.outcome).short }}
          </td>
          <td v-if="withWorkload">{{ run.workload_name }}</td>
          <td v-if="withSetting">{{ run.setting_title }}</td>
          <td class="number figure">
            {{ plain(run.value) }} <span class="quiet">{{ run.value != null ? run.unit : '' }}</span>
          </td>
          <td v-if="showLows" class="number figure">{{ plain(read(run, 'low_1_fps')) }}</td>
          <td class="number figure">{{ number(read(run, 'core_mhz'), 0) }} <span class="quiet">MHz</span></td>
          <td class="number figure" :title="readBy(run, 'power_w') || 'who read it was not noted'">
            {{ number(read(run, 'power_w'), 0) }} <span class="quiet">W</span>
          </td>
          <td class="number figure">{{ number(read(run, 'temp_max_c')) }} <span class="quiet">°C</span></td>
          <td class="number figure">{{ number(read(run, 'room_c')) }} <span class="quiet">°C</span></td>
          <td class="quiet when">
            {{ moment(run.started_at) }}
            <span v-if="run.set_aside_reason" class="words">Set aside: {{ run.set_aside_reason }}</span>
            <span v-if="run.note" class="words">{{ run.note }}</span>
          </td>
          <td class="acts">
            <RouterLink :to="{ name: 'run', params: { id: run.id } }">{{
              run.series.length ? 'Open, with log' : 'Open'
            }}</RouterLink>
            <SetAside :run-id="run.id" :aside="!!run.set_aside_at" />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.ended {
  white-space: nowrap;
}
.aside td {
  color: var(--quiet);
}
.when {
  font-size: 13px;
}
.words {
  display: block;
}
.acts {
  white-space: nowrap;
  text-align: right;
}
</style>
