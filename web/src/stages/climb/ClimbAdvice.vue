<!-- Beside the ladder: how likely each value of a knob is to hold, and what to try next, by four strategies. -->
<script setup lang="ts">
import { Button as AButton, Checkbox as ACheckbox, message } from 'ant-design-vue'
import { until } from '@vueuse/core'
import { computed, toRef } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import { type Campaign, testable } from '../../api/campaigns'
import { useBenchOptions } from '../../api/live'
import { speed } from '../../live/speed'
import { type NextStep, useClimb, usePlan } from '../../api/climb'
import { useAddSetting } from '../../api/settings'
import HoldCurve from '../../charts/HoldCurve.vue'
import { counted, knobValue, number } from '../../words/format'
import { useShortcut } from '../../composables/keys'
import KeyCap from '../../parts/KeyCap.vue'
import LoadState from '../../parts/LoadState.vue'
import ChoiceField from '../../parts/ChoiceField.vue'
import NumberField from '../../parts/NumberField.vue'
import ProblemList from '../../parts/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import { acceptedHours, benchMinutes, climbQuestion, followed as strategy, largestSteps, wary } from '../accepted'
import { useBeginLine } from '../../composables/useStageCampaign'
import { useTryOut } from '../../composables/useTryOut'
import KnobTurns from './KnobTurns.vue'

const props = defineProps<{ campaign: Campaign; workloadId: number; knob: string | undefined }>()
defineEmits<{ choose: [key: string] }>()
const question = computed(() => climbQuestion(props.knob))
const { data, isPending, isFetching, error, refetch } = useClimb(() => props.campaign.id, question)
const { data: plans } = usePlan(() => props.campaign.id, question)
const { data: options } = useBenchOptions()
const speedChoices = computed(() => (options.value?.speeds ?? []).map((value) => ({ value, label: `${value}×` })))
const router = useRouter()
const { mutateAsync: addSetting } = useAddSetting()
const tryOut = useTryOut(toRef(props, 'campaign'))
const beginLine = useBeginLine()
const { problems, take, clear } = useProblems()

const climb = computed(() => data.value?.climb)
const step = computed(() => climb.value?.steps.find((one) => one.strategy === strategy.value) ?? climb.value?.steps.at(-1))
const words = (value: number): string =>
  climb.value ? `${knobValue(value, climb.value.knob.stock)} ${climb.value.knob.unit}`.trim() : ''
/** An estimate between two steps: no more decimals than the knob's own step can mean. */
const whole = (value: number): number => Number(value.toFixed((climb.value?.knob.step ?? 1) >= 2 ? 0 : 2))
const headline = (one: NextStep): string =>
  one.advice.act === 'hold'
    ? one.advice.value === climb.value?.knob.stock
      ? 'Keep stock'
      : `Hold ${words(one.advice.value)}`
    : `Test ${words(one.advice.value)} for ${one.strategy === 'by the numbers' ? 'up to ' : ''}${one.advice.minutes} min`
const loadOf = (one: NextStep): string => testable(props.campaign).find((load) => load.id === one.advice.load_id)?.name ?? ''
const planOf = (one: NextStep): string => {
  const plan = plans.value?.find((other) => other.strategy === one.strategy)?.plan
  if (!plan) return '…'
  if (plan.tests === 0) return 'nothing more to test'
  return `${number(plan.minutes.likely, 0)} min (${number(plan.minutes.low, 0)} to ${number(plan.minutes.high, 0)}), ${number(plan.failures, 1)} failures`
}
const largestStep = computed({
  get: () => largestSteps.value[props.knob ?? ''] ?? null,
  set: (value) => (largestSteps.value = { ...largestSteps.value, [props.knob ?? '']: value }),
})
const learntFrom = computed(() =>
  climb.value?.steepness.climbs
    ? `began with what ${counted(climb.value.steepness.climbs, 'earlier climb')} showed`
    : 'began with what is usual for this kind of knob',
)
const lastFailed = computed(() => [...(climb.value?.trials ?? [])].reverse().find((trial) => trial.failed))

async function follow(): Promise<void> {
  if (!climb.value || !step.value) return
  // advice that is being found anew may be about to change: nothing is begun that was not on the screen
  const shown = headline(step.value)
  await until(isFetching).toBe(false)
  if (headline(step.value) !== shown) return void message.info('The advice has just changed. Look again, then press once more.')
  clear()
  const { advice, setting_id: settingId } = step.value
  const values = { ...climb.value.base, [climb.value.knob.key]: advice.value }
  try {
    if (advice.act === 'hold') {
      const setting = settingId ?? (await addSetting({ campaignId: props.campaign.id, body: { values, note: '' } })).id
      await router.push({ name: 'Prove', params: { id: props.campaign.id }, query: { setting } })
      return
    }
    const line = data.value?.lines[step.value.strategy]
    if (!props.campaign.standin && line) return beginLine(line)
    await tryOut({
      settingId,
      values,
      workloadId: advice.load_id ?? props.workloadId,
      minutes: advice.minutes,
      knob: climb.value.knob.key,
    })
  } catch (trouble) {
    take(trouble)
  }
}
useShortcut('a', () => void follow())
</script>

<template>
  <section class="sheet whole" aria-label="What to try next" data-test="advice" :aria-busy="isFetching">
    <LoadState :pending="isPending" :error="error" what="The advice" @again="refetch">
      <template v-if="data && climb && step">
        <KnobTurns :turns="data.knobs" :knobs="campaign.knobs" :chosen="climb.knob.key" @choose="(key) => $emit('choose', key)" />
        <div class="advice">
          <HoldCurve :climb="climb" />
          <div class="card">
            <p class="head" data-test="next-step">
              {{ headline(step) }}<template v-if="loadOf(step)"> with {{ loadOf(step) }}</template>
            </p>
            <p>{{ step.advice.reason }}</p>
            <p v-if="!climb.fits && step.strategy !== 'by the numbers'" class="caution">
              The runs along this knob do not fit one edge. Look for another cause first: heat, supply, memory, driver.
            </p>
            <p v-if="step.advice.teaches" class="quiet">What it teaches: {{ step.advice.teaches }}</p>
            <div class="acts">
              <AButton type="primary" @click="follow">
                {{ step.advice.act === 'hold' ? 'Prove it' : campaign.standin ? 'Start this test' : 'Log this test' }}
                <KeyCap>a</KeyCap>
              </AButton>
              <RouterLink
                v-if="lastFailed?.run_id"
                :to="{ name: 'Prove', params: { id: campaign.id }, query: { run: lastFailed.run_id } }"
              >
                What the last failure asks for
              </RouterLink>
            </div>
            <ProblemList :problems="problems" title="Not done:" />
            <div class="choose">
              <NumberField v-model="acceptedHours" label="Accept one failure in" unit="h" />
              <NumberField v-model="benchMinutes" label="Bench time I have" unit="min" hint="no end" />
              <NumberField
                v-model="largestStep"
                label="Largest step"
                :unit="climb.knob.unit"
                :hint="number(climb.largest_step, (climb.knob.step ?? 1) >= 1 ? 0 : 3)"
              />
              <ChoiceField v-if="campaign.standin" v-model="speed" label="Speed of the stand-in" :options="speedChoices" />
            </div>
            <ACheckbox v-model:checked="wary">
              Wary: keep only what would hold even if failures thin out slowly below the edge (one to two steps less)
            </ACheckbox>
          </div>
        </div>
        <table class="ledger strategies" aria-label="What each strategy would do next">
          <thead>
            <tr>
              <th>Strategy</th>
              <th>Next</th>
              <th>Why</th>
              <th>From here to its hold</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in climb.steps" :key="one.strategy" :class="{ on: one.strategy === strategy }">
              <td>
                <label><input v-model="strategy" type="radio" name="strategy" :value="one.strategy" /> {{ one.strategy }}</label>
              </td>
              <td class="next">{{ headline(one) }}</td>
              <td class="quiet">{{ one.advice.reason }}</td>
              <td class="figure estimate plan">{{ planOf(one) }}</td>
            </tr>
          </tbody>
        </table>
        <p class="quiet foot">
          Climbed from {{ climb.base_title }}; every workload’s runs count, lighter ones for less. The edge (one failure an hour)
          lies between <span class="figure estimate">{{ words(whole(climb.edge_near)) }}</span> and
          <span class="figure estimate">{{ words(whole(climb.edge_far)) }}</span>, 90 % sure; failures become ten times as
          frequent within about
          <span class="figure estimate"
            >{{ number(whole(climb.decade), whole(climb.decade) >= 2 ? 0 : 2) }} {{ climb.knob.unit }}</span
          >
          {{ ' ' }}({{ learntFrom }}). Restarts and a minute to set up each test are counted.
        </p>
      </template>
    </LoadState>
  </section>
</template>

<style scoped>
.whole {
  margin-bottom: 16px;
  padding: 8px 16px 12px;
}
.advice {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 4fr);
  gap: 32px;
}
.card {
  display: grid;
  gap: 8px;
  align-content: start;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
  align-items: center;
}
.choose {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(140px, 1fr));
  gap: 8px 16px;
}
.head {
  font-weight: 700;
  font-size: 16px;
  line-height: 24px;
}
.strategies {
  margin-top: 8px;
  font-size: 13px;
}
.strategies td:first-child,
.next {
  white-space: nowrap;
}
.plan {
  white-space: nowrap;
}
.strategies label {
  display: flex;
  gap: 6px;
  align-items: center;
  cursor: pointer;
}
.strategies input {
  accent-color: var(--petrol);
}
tr.on td {
  color: var(--ink);
}
tr.on .next {
  font-weight: 700;
}
.foot {
  margin-top: 8px;
  font-size: 13px;
}
@media (max-width: 1000px) {
  .advice {
    grid-template-columns: minmax(0, 1fr);
    gap: 12px;
  }
  .strategies td:nth-child(3),
  .strategies th:nth-child(3) {
    display: none;
  }
  .plan {
    white-space: normal;
  }
}
</style>
