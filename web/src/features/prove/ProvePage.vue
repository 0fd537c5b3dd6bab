<!-- Proof of a setting: a test suite by each approach, the failures to expect, and what to do when one comes. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { message } from 'ant-design-vue'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { useSimulator } from '../../api/benches'
import type { Schemas } from '../../api/client'
import { type Item, type ProofQuestion, useProof, useSetTestSuite } from '../../api/proof'
import { chance, hoursWords, number, often } from '../../ui/words/format'
import ChoiceField from '../../ui/ChoiceField.vue'
import LoadState from '../../ui/LoadState.vue'
import NumberField from '../../ui/NumberField.vue'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import type { Outcome } from '../../api/runs'
import { useStageCampaign } from '../../composables/useStageCampaign'
import { useOwnWay } from '../../composables/useOwnWay'
import { useTryOut } from '../../composables/useTryOut'
import TestSuiteEditor from './TestSuiteEditor.vue'
import RateScale from './RateScale.vue'
import ApproachBoard from './ApproachBoard.vue'
import TriagePanel from './TriagePanel.vue'

const campaign = useStageCampaign()
const route = useRoute()
const router = useRouter()
const asNumber = (value: unknown): number | undefined =>
  typeof value === 'string' && /^\d+$/.test(value) ? Number(value) : undefined
const settingId = computed(() => asNumber(route.query.setting))
const runId = computed(() => asNumber(route.query.run))
const minutes = ref<number | null>(null)
const question = computed<ProofQuestion>(() => ({
  setting_id: settingId.value,
  minutes: minutes.value ?? undefined,
}))
const { data: proof, isPending, error, refetch } = useProof(() => campaign.value.id, question)
const { hours, approach: ownApproach } = useOwnWay(() => undefined)
const approaches = computed(() => registry.value.approaches.map(({ approach }) => ({ value: approach, label: approach })))
const tryOut = useTryOut(campaign)
const { problems, take, clear } = useProblems()

const choices = computed(() =>
  [...(proof.value?.candidates ?? [])].reverse().map((one) => ({
    value: one.setting_id,
    label: `${one.title} (${number(one.hours, 1)} h${one.failures ? `, ${one.failures} failed` : ''}${one.proved_by.length ? `, proved: ${one.proved_by.join(', ')}` : ''})`,
  })),
)
/** The three approaches and the numbers in two columns, each as long as it needs to be. */
const columns = computed(() => [0, 1].map((side) => (proof.value?.approaches ?? []).filter((_, index) => index % 2 === side)))
const choose = (id: number | undefined): void => void router.replace({ query: { ...route.query, setting: id } })
const open = (id: number | undefined): void => void router.replace({ query: { ...route.query, run: id } })
/** The newest failure opens by itself: it is what asks for an answer. */
const shownRun = computed(() => runId.value ?? proof.value?.failures.at(-1)?.run_id)

const { data: simulators } = useSimulator()
const { mutateAsync: setTestSuite } = useSetTestSuite()
/** A workload that does what the item asks for, into the test suite: on the simulator one that it can run. */
async function addFor(item: Item): Promise<void> {
  const wants = item.wants
  if (!wants) return
  clear()
  const kind = simulators.value?.find((one) => one.key === campaign.value.simulator)
  const able = kind?.workloads.find(
    (one) =>
      one.kind === wants.kind &&
      wants.parts.every((part) => one.parts?.includes(part)) &&
      (wants.techniques ?? []).every((technique) => one.techniques?.includes(technique)),
  )
  if (kind && !able) return void message.info('The simulator has no workload that does this.')
  const workload = able ?? { ...wants, higher_is_better: wants.measure !== 'time' }
  try {
    const body = { workload_ids: campaign.value.test_suite.map((one) => one.id), workloads: [workload as Schemas['WorkloadIn']] }
    await setTestSuite({ campaignId: campaign.value.id, body })
    void message.success(`${workload.name} is in the test suite now.`)
  } catch (trouble) {
    take(trouble)
  }
}

async function run(item: Item): Promise<void> {
  clear()
  try {
    await tryOut({
      settingId: proof.value?.setting_id,
      values: {},
      workloadId: item.load_id,
      minutes: item.run_minutes,
      repeats: item.runs,
    })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The proof" @again="refetch">
    <template v-if="proof">
      <div class="choose">
        <ChoiceField :model-value="proof.setting_id" label="Setting to prove" :options="choices" @update:model-value="choose" />
        <NumberField v-model="hours" label="Accept one failure in" unit="h" />
        <NumberField v-model="minutes" label="Bench time I have" unit="min" hint="no limit" />
        <ChoiceField v-model="ownApproach" label="Prove by" :options="approaches" />
      </div>
      <div class="two">
        <section aria-label="Failures to expect" data-test="expected">
          <h2>Failures an hour</h2>
          <RateScale :accepted="proof.accepted_per_h" :own="proof.own" :expected="proof.expected" :knob="proof.knob_name" />
          <p v-if="proof.expected">
            <strong class="figure estimate">{{ chance(proof.expected.within) }}</strong> sure of no more than one failure in
            {{ hoursWords(1 / proof.accepted_per_h) }}, from all trials along {{ proof.knob_name.toLowerCase() }}; you asked for
            {{ number(100 * proof.sure, 0) }} %.
            <span v-if="proof.own.hours > 0" class="quiet"
              >Its own {{ number(proof.own.hours, 1) }} h alone could show no more than {{ often(proof.own.high ?? 0) }}.</span
            >
          </p>
          <p v-else class="quiet">Stock is where every climb begins; it is judged by its own runs.</p>
        </section>
        <section aria-label="What has been run" data-test="evidence">
          <h2>What has been run</h2>
          <table class="ledger">
            <thead>
              <tr>
                <th>Kind</th>
                <th class="number">Runs</th>
                <th class="number">Hours</th>
                <th class="number">Failed</th>
                <th class="number">Failures an hour, 90 %</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in proof.evidence" :key="one.kind">
                <td>{{ one.kind }}</td>
                <td class="number figure">{{ one.runs }}</td>
                <td class="number figure">{{ number(one.rate.hours, 2) }}</td>
                <td class="number figure">{{ one.rate.failures }}</td>
                <td class="number figure estimate">
                  {{ number(one.rate.low, one.rate.low < 10 ? 2 : 0) }} to
                  {{ number(one.rate.high, (one.rate.high ?? 0) < 100 ? 1 : 0) }}
                </td>
              </tr>
              <tr v-if="!proof.evidence.length">
                <td colspan="5" class="quiet">Nothing yet. Begin with any line of a test suite below.</td>
              </tr>
            </tbody>
          </table>
          <p class="quiet breadth">
            Covered: {{ [...proof.breadth.parts, ...proof.breadth.techniques].join(', ') || 'nothing' }}. Not covered yet:
            {{ [...proof.breadth.parts_missing, ...proof.breadth.techniques_missing].join(', ') || 'nothing' }}.
          </p>
          <p v-if="proof.failures.length" class="failures">
            <button
              v-for="one in proof.failures"
              :key="one.run_id"
              type="button"
              :class="{ on: one.run_id === shownRun }"
              @click="open(one.run_id)"
            >
              <OutcomeMark :outcome="one.outcome as Outcome" bare /> {{ one.workload }}, after {{ number(one.minutes, 1) }} min
            </button>
          </p>
        </section>
      </div>
      <TriagePanel v-if="shownRun" :key="shownRun" :campaign="campaign" :run-id="shownRun" />
      <ProblemList :problems="problems" title="Not done:" />
      <div class="approaches">
        <div v-for="column in columns" :key="column[0]?.proof.approach" class="column">
          <ApproachBoard
            v-for="approach in column"
            :key="approach.proof.approach"
            :campaign="campaign"
            :approach="approach"
            :timed="minutes !== null"
            @run="run"
            @add="addFor"
          />
        </div>
      </div>
      <TestSuiteEditor :campaign="campaign" />
    </template>
  </LoadState>
</template>

<style scoped>
.choose {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 160px 160px 180px;
  gap: 16px;
  margin-bottom: 16px;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 32px;
  margin-bottom: 16px;
}
.breadth {
  margin-top: 8px;
  font-size: 13px;
}
.failures {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin-top: 8px;
}
.failures button {
  min-height: 32px;
  padding: 0;
  border: 0;
  border-bottom: 2px solid transparent;
  background: none;
  color: var(--ink);
  font: inherit;
  cursor: pointer;
}
.failures button.on {
  border-bottom-color: var(--orange);
}
.column {
  display: grid;
  gap: 16px;
  align-content: start;
}
.approaches {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 16px;
}
@media (max-width: 1000px) {
  .two,
  .approaches {
    grid-template-columns: minmax(0, 1fr);
    gap: 16px;
  }
  .choose {
    grid-template-columns: 1fr 1fr;
  }
  .choose > :first-child {
    grid-column: 1 / -1;
  }
}
</style>
