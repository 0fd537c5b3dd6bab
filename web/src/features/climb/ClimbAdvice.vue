<!-- Beside the drawing: what the climb asks for next and why, how long it still takes, and by what each strategy would go on. -->
<script setup lang="ts">
import { Button as AButton, Checkbox as ACheckbox, message } from 'ant-design-vue'
import { until, useTimeoutFn } from '@vueuse/core'
import { computed, ref, toRef, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import { type Campaign, testable } from '../../api/campaigns'
import { useBenchOptions } from '../../api/live'
import { speed } from '../live/speed'
import { type StrategyStep, useClimb, usePlan } from '../../api/climb'
import { usePredicted } from '../../api/lab'
import { useAddSetting } from '../../api/settings'
import { counted, glued, knobValue, number } from '../../ui/words/format'
import { useShortcut } from '../../composables/keys'
import IntervalFigure from '../../ui/IntervalFigure.vue'
import KeyCap from '../../ui/KeyCap.vue'
import LoadState from '../../ui/LoadState.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import { useOwnWay } from '../../composables/useOwnWay'
import { benchMinutes, climbQuestion } from '../campaign/accepted'
import { useBeginLine } from '../../composables/useStageCampaign'
import { useTryOut } from '../../composables/useTryOut'
import { useUnderWay } from '../../composables/useUnderWay'
import TermWord from '../../ui/TermWord.vue'

const props = defineProps<{ campaign: Campaign; workloadId: number; knob: string | undefined }>()
const question = computed(() => climbQuestion(props.knob))
const { data, isPending, isFetching, error, refetch } = useClimb(() => props.campaign.id, question)
/** Playing a climb through takes the server seconds: it waits until someone stays here, and nothing is being run. */
const STILL_MS = 2_000
const underWay = useUnderWay(() => props.campaign.id)
const still = ref(false)
const { start } = useTimeoutFn(() => (still.value = !underWay.value), STILL_MS)
watch([data, underWay], () => {
  still.value = false
  start()
})
const { data: plans } = usePlan(() => props.campaign.id, question, still)
const { data: options } = useBenchOptions()
const speedChoices = computed(() => (options.value?.speeds ?? []).map((value) => ({ value, label: `${value}×` })))
const router = useRouter()
const { mutateAsync: addSetting } = useAddSetting()
const tryOut = useTryOut(toRef(props, 'campaign'))
const beginLine = useBeginLine()
const { problems, take, clear } = useProblems()

const climb = computed(() => data.value?.climb)
const { hours, cautious, strategy, largestStep } = useOwnWay(() => climb.value?.knob.key)
const step = computed(() => climb.value?.steps.find((one) => one.strategy === strategy.value) ?? climb.value?.steps.at(-1))
const words = (value: number): string =>
  climb.value ? `${knobValue(value, climb.value.knob.stock)} ${climb.value.knob.unit}`.trim() : ''
/** An estimate between two steps: no more decimals than the knob's own step can mean. */
const whole = (value: number): number => Number(value.toFixed((climb.value?.knob.step ?? 1) >= 2 ? 0 : 2))
const headline = (one: StrategyStep): string =>
  one.advice.act === 'hold'
    ? one.advice.value === climb.value?.knob.stock
      ? 'Keep stock'
      : `Hold ${words(one.advice.value)}`
    : `Test ${words(one.advice.value)} for ${one.strategy === 'adaptive' ? 'up to ' : ''}${one.advice.minutes} min`
const loadOf = (one: StrategyStep): string => testable(props.campaign).find((load) => load.id === one.advice.load_id)?.name ?? ''
const planOf = (one: StrategyStep): string => {
  const plan = plans.value?.find((other) => other.strategy === one.strategy)?.plan
  if (!plan) return '…'
  if (plan.tests === 0) return 'nothing more to test'
  return `${number(plan.minutes.likely, 0)} min (${number(plan.minutes.low, 0)} to ${number(plan.minutes.high, 0)}), ${number(plan.failures, 1)} failures`
}
const learntFrom = computed(() =>
  climb.value?.steepness.climbs
    ? `began with what ${counted(climb.value.steepness.climbs, 'earlier climb')} showed`
    : 'began with what is usual for this kind of knob',
)
/** What the next test would draw and heat up to; nothing where no law was fitted yet. */
const wish = computed(() => {
  if (!climb.value || step.value?.advice.act !== 'test') return undefined
  const { knob, base } = climb.value
  const values = { ...base, [knob.key]: step.value.advice.value }
  return { values, workload_id: step.value.advice.load_id ?? props.workloadId }
})
const { data: predicted, error: unpredicted } = usePredicted(() => props.campaign.id, wish)
const turn = computed(() => data.value?.knobs.find((one) => one.key === climb.value?.knob.key))
/** Whether the campaign's next step is this very test: then its own button, above, is the one to press. */
const ofTheStep = computed(() => {
  const next = props.campaign.next?.step
  return next?.act === 'climb' && next.knob === climb.value?.knob.key
})
const lastFailed = computed(() => [...(climb.value?.trials ?? [])].reverse().find((trial) => trial.failed))

async function follow(): Promise<void> {
  if (!climb.value || !step.value) return
  // advice that is being found again may be about to change: nothing is begun that was not on the screen
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
    if (!props.campaign.simulator && line) return beginLine(line)
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
useShortcut('t', () => void follow())
</script>

<template>
  <section aria-label="Advice for this knob" data-test="advice" :aria-busy="isFetching">
    <LoadState :pending="isPending" :error="error" what="The advice" @again="refetch">
      <template v-if="data && climb && step">
        <p class="head" data-test="next-step">
          {{ headline(step) }}<template v-if="loadOf(step)"> with {{ loadOf(step) }}</template>
        </p>
        <p>{{ glued(step.advice.reason.text) }}</p>
        <p v-if="wish && predicted?.power_w && !unpredicted" data-test="test-predicted">
          Predicted: <IntervalFigure :of="predicted.power_w" unit="W" :decimals="0" /><template v-if="predicted.temp_c"
            >, settles at <IntervalFigure :of="predicted.temp_c" unit="°C" :decimals="0" /></template
          >.
          <span v-for="one in predicted.safety_limits" :key="one.text" class="warning">{{ one.text }} </span>
        </p>
        <p v-if="turn?.to_find_says">{{ glued(turn.to_find_says.text) }}</p>
        <p v-if="!climb.fits && step.strategy !== 'adaptive'" class="caution">
          The runs along this knob do not fit one edge. Look for another cause first: heat, supply, memory, driver.
        </p>
        <p v-if="step.advice.teaches" class="quiet">What it teaches: {{ step.advice.teaches.text }}</p>
        <div class="acts">
          <AButton :type="ofTheStep ? 'default' : 'primary'" @click="follow">
            {{ step.advice.act === 'hold' ? 'Prove it' : campaign.simulator ? 'Start this test' : 'Log this test' }}
            <KeyCap>t</KeyCap>
          </AButton>
          <RouterLink
            v-if="lastFailed?.run_id"
            :to="{ name: 'Prove', params: { id: campaign.id }, query: { run: lastFailed.run_id } }"
          >
            What the last failure asks for
          </RouterLink>
        </div>
        <ProblemList :problems="problems" title="Not done:" />
        <table class="ledger strategies" aria-label="What each strategy would do next">
          <thead>
            <tr>
              <th>Strategy</th>
              <th>Next</th>
              <th>Time left to finish</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="one in climb.steps"
              :key="one.strategy"
              :class="{ on: one.strategy === strategy }"
              :title="one.advice.reason.text"
            >
              <td>
                <label><input v-model="strategy" type="radio" name="strategy" :value="one.strategy" /> {{ one.strategy }}</label>
              </td>
              <td class="then">{{ headline(one) }}</td>
              <td class="figure estimate plan">{{ planOf(one) }}</td>
            </tr>
          </tbody>
        </table>
        <div class="choose">
          <NumberField v-model="hours" label="Accept one failure in" unit="h" />
          <NumberField v-model="benchMinutes" label="Bench time I have" unit="min" hint="no limit" />
          <NumberField
            v-model="largestStep"
            label="Largest step"
            :unit="climb.knob.unit"
            :hint="number(climb.largest_step, (climb.knob.step ?? 1) >= 1 ? 0 : 3)"
          />
          <ChoiceField v-if="campaign.simulator" v-model="speed" label="Speed of the simulator" :options="speedChoices" />
        </div>
        <ACheckbox v-model:checked="cautious">
          Cautious: keep only what would hold even if failures thin out slowly below the edge (one to two steps less)
        </ACheckbox>
        <p class="quiet foot">
          Climbed from {{ climb.base_title }}; every workload’s runs count, lighter workloads count less.
          <template v-if="climb.harder_h > 0"
            >So does what held with more asked of the part: another knob’s clock higher or voltage lower, all else the same.
          </template>
          <template v-if="climb.edge_near == null">
            No <TermWord term="Edge">edge</TermWord> (one failure an hour) is expected along this knob.
          </template>
          <template v-else>
            The <TermWord term="Edge">edge</TermWord> (one failure an hour) lies
            <template v-if="climb.edge_far == null">
              beyond <span class="figure estimate">{{ words(whole(climb.edge_near)) }}</span>, 95 % sure;
            </template>
            <template v-else>
              between <span class="figure estimate">{{ words(whole(climb.edge_near)) }}</span> and
              <span class="figure estimate">{{ words(whole(climb.edge_far)) }}</span>, 90 % sure;
            </template>
            failures become ten times as frequent within about
            <span class="figure estimate"
              >{{ number(whole(climb.decade), whole(climb.decade) >= 2 ? 0 : 2) }} {{ climb.knob.unit }}</span
            >
            {{ ' ' }}({{ learntFrom }}).
          </template>
        </p>
      </template>
    </LoadState>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
.head {
  font-weight: 700;
  font-size: 16px;
  line-height: 24px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
  align-items: center;
}
.choose {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px 16px;
}
.strategies {
  font-size: 13px;
}
.strategies td {
  padding: 4px 8px 4px 0;
}
.strategies td:first-child,
.then {
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
.plan {
  white-space: normal;
}
tr.on .then {
  font-weight: 700;
}
.foot {
  font-size: 12px;
  line-height: 18px;
}
</style>
