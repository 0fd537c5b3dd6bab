<script setup lang="ts">
import { outcomeFacts } from '../../api/registry'
import { computed } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { useRun } from '../../api/runs'
import { moment, number } from '../../ui/words/format'
import LoadState from '../../ui/LoadState.vue'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import { inWords, origin } from './figures'
import { useLive } from '../../api/live'
import LivePanel from '../live/LivePanel.vue'
import MarkList from '../live/MarkList.vue'
import KeptLog from './KeptLog.vue'
import LogImport from './LogImport.vue'
import CorrectRun from './CorrectRun.vue'
import NextAfterRun from './NextAfterRun.vue'
import SetAside from './SetAside.vue'
import { useShortcut } from '../../composables/keys'
import KeyCap from '../../ui/KeyCap.vue'

const props = defineProps<{ id: number }>()
const { data: run, isPending, error, refetch } = useRun(() => props.id)

const route = useRoute()
const router = useRouter()
useShortcut('b', () => {
  if (run.value) void router.push({ name: 'Climb', params: { id: run.value.campaign_id }, query: { knob: route.query.knob } })
})

const goesOn = computed(() => run.value?.live_state === 'open' || run.value?.live_state === 'lost')
const { data: live } = useLive(
  () => props.id,
  () => !!run.value?.live_state,
)

const failed = computed(() => !!run.value && !run.value.set_aside_at && outcomeFacts(run.value.outcome).failed)
/** The run's own numbers; all others are its figures. */
const own = computed(() => {
  const shown = run.value
  if (!shown) return []
  const named: [string, string, number | null, number, string][] = [
    ['value', 'Result', shown.value, 2, shown.unit],
    ['duration_s', 'Lasted', shown.duration_s, 1, 's'],
  ]
  return named
    .filter(([, , value]) => value != null)
    .map(([field, name, value, decimals, unit]) => ({
      field,
      name,
      text: `${number(value, decimals)} ${unit}`,
      source: shown.log_figures.includes(field) ? 'from the log' : shown.live_state ? 'from the live run' : 'typed',
      typed: shown.typed[field] as number | undefined,
    }))
})
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The run" @again="refetch">
    <template v-if="run">
      <p class="path quiet">
        <RouterLink :to="{ name: 'Climb', params: { id: run.campaign_id }, query: { knob: route.query.knob } }"
          >Back to the climb <KeyCap>b</KeyCap></RouterLink
        >
      </p>
      <div class="page-head" :data-run="run.id">
        <h1>{{ run.workload_name }}, {{ run.setting_title }}</h1>
        <span v-if="run.options_in_words" class="quiet">{{ run.options_in_words }}</span>
        <RouterLink v-if="failed" :to="{ name: 'Prove', params: { id: run.campaign_id }, query: { run: run.id } }"
          >What to do now</RouterLink
        >
        <CorrectRun v-if="!goesOn" :run="run" />
        <SetAside v-if="!goesOn" :run-id="run.id" :aside="!!run.set_aside_at" />
      </div>
      <NextAfterRun v-if="!goesOn" :key="run.id" :campaign-id="run.campaign_id" />
      <LivePanel v-if="goesOn && live" :key="live.run_id" :live="live" />
      <template v-else-if="!goesOn">
        <p>
          <OutcomeMark :outcome="run.outcome" :set-aside="!!run.set_aside_at" bare />{{ ' '
          }}<strong>{{ outcomeFacts(run.outcome).short }}</strong> – {{ outcomeFacts(run.outcome).meaning }}.
          {{ moment(run.started_at) }}, build {{ run.build_number }}<span v-if="run.fan">, fan {{ run.fan }}</span
          >.
        </p>
        <p v-if="run.set_aside_reason" class="caution">Set aside: {{ run.set_aside_reason }}</p>
        <p v-for="one in run.corrections" :key="one" class="caution">{{ one }}.</p>
        <p v-if="run.note" class="quiet">{{ run.note }}</p>
        <div class="two">
          <section>
            <h2>Figures</h2>
            <table class="ledger">
              <tbody>
                <tr v-for="line in own" :key="line.field">
                  <td>{{ line.name }}</td>
                  <td class="number figure">{{ line.text }}</td>
                  <td class="quiet">
                    {{ line.source }}<template v-if="line.typed != null"> (typed before: {{ line.typed }})</template>
                  </td>
                </tr>
                <tr v-for="(figure, index) in run.figures" :key="index" :class="{ out: figure.replaced || !figure.counts }">
                  <td>{{ figure.name }}</td>
                  <td :class="['number', 'figure', { estimate: figure.corrected != null || figure.half != null }]">
                    {{ inWords(figure) }}
                  </td>
                  <td class="quiet">{{ origin(figure) }}</td>
                </tr>
              </tbody>
            </table>
            <p v-if="own.length + run.figures.length === 0" class="quiet">Nothing was measured in this run.</p>
          </section>
          <section>
            <h2>Log</h2>
            <LogImport :run="run" />
          </section>
        </div>
        <MarkList v-if="live" :marks="live.marks" />
        <KeptLog v-for="series in run.series" :key="series.id" :run-id="run.id" :series="series" />
      </template>
    </template>
  </LoadState>
</template>

<style scoped>
.out td {
  color: var(--quiet);
  text-decoration: line-through;
}
/* a figure's name is never cut within a word */
.two td:first-child {
  overflow-wrap: normal;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 4fr) minmax(0, 6fr);
  gap: 32px;
  margin: 24px 0;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
