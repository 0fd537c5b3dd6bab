<!-- A hidden specimen: test, learn, keep; then the truth beside what each strategy would have kept. -->
<script setup lang="ts">
import { outcomeFacts } from '../../api/registry'
import { Button as AButton, Switch as ASwitch } from 'ant-design-vue'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'

import { usePractice, usePractise, useKeepValue } from '../../api/practice'
import HoldCurve from '../../charts/HoldCurve.vue'
import { knobValue, number } from '../../ui/words/format'
import { useShortcut } from '../../composables/keys'
import KeyCap from '../../ui/KeyCap.vue'
import LoadState from '../../ui/LoadState.vue'
import NumberField from '../../ui/NumberField.vue'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import type { Outcome } from '../../api/runs'
import TruthTable from './TruthTable.vue'

const props = defineProps<{ id: number }>()
const { data: practice, isPending, error, refetch } = usePractice(() => props.id)
const { mutateAsync: practise, isPending: testing } = usePractise()
const { mutateAsync: keep, isPending: keeping } = useKeepValue()
const { problems, take, clear, at } = useProblems()
const value = ref<number | null>(15)
const minutes = ref<number | null>(5)
const kept = ref<number | null>(null)
const helped = ref(false)

const knob = computed(() => practice.value?.climb.knob)
const words = (amount: number): string =>
  knob.value ? (amount === knob.value.stock ? 'stock' : `${knobValue(amount, knob.value.stock)} ${knob.value.unit}`) : ''
const advice = computed(() => practice.value?.climb.steps.find((one) => one.strategy === 'adaptive')?.advice)
const newest = computed(() => [...(practice.value?.tests ?? [])].reverse())
const ended = computed(() => practice.value?.kept != null)

/** With advice the fields follow it; they can still be changed. */
watch(
  [() => JSON.stringify(advice.value), helped],
  () => {
    if (!helped.value || !advice.value) return
    if (advice.value.act === 'test') {
      value.value = advice.value.value
      minutes.value = advice.value.minutes
    } else kept.value = advice.value.value
  },
  { immediate: true },
)

async function test(): Promise<void> {
  clear()
  const advised =
    helped.value && advice.value?.act === 'test' && advice.value.value === value.value && advice.value.minutes === minutes.value
  try {
    await practise({ id: props.id, body: { value: value.value as number, minutes: minutes.value ?? 0, advised } })
  } catch (trouble) {
    take(trouble)
  }
}
async function end(): Promise<void> {
  clear()
  if (kept.value === null) {
    problems.value = [{ where: 'kept', what: 'No value to keep.', todo: 'Type the one you would use every day.' }]
    return
  }
  try {
    await keep({ id: props.id, value: kept.value })
  } catch (trouble) {
    take(trouble)
  }
}
useShortcut('a', () => {
  if (ended.value) return
  helped.value = true
  if (advice.value?.act === 'test') void test()
})
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The practice" @again="refetch">
    <template v-if="practice && knob">
      <p class="path quiet"><RouterLink :to="{ name: 'practices' }">Practice bench</RouterLink></p>
      <div class="page-head">
        <h1>Specimen {{ practice.seed }}</h1>
        <span class="figure"
          >{{ number(practice.minutes_left, 1) }} of {{ number(practice.budget_minutes, 0) }} min left,
          {{ practice.failures }} failed</span
        >
      </div>
      <TruthTable v-if="practice.truth" :practice="practice" :truth="practice.truth" />
      <div class="two">
        <section v-if="!ended" class="sheet desk" aria-label="Test or keep">
          <label class="help"><ASwitch v-model:checked="helped" size="small" aria-label="With advice" /> With advice</label>
          <form class="form-grid" @submit.prevent="test">
            <NumberField v-model="value" :label="`${knob.name} offset`" :unit="knob.unit" :trouble="at('value')" />
            <NumberField v-model="minutes" label="Length" unit="min" :trouble="at('minutes')" />
            <AButton type="primary" html-type="submit" :loading="testing" :disabled="practice.minutes_left <= 0" class="wide"
              >Test <KeyCap>Enter</KeyCap></AButton
            >
          </form>
          <p v-if="helped && advice" data-test="practice-advice">
            <strong>{{
              advice.act === 'test'
                ? `Test ${words(advice.value)} for up to ${advice.minutes} min`
                : `Hold ${words(advice.value)}`
            }}</strong>
            <KeyCap v-if="advice.act === 'test'">a</KeyCap>
            <span class="quiet block">{{ advice.reason.text }} {{ advice.teaches?.text }}</span>
          </p>
          <form class="form-grid keep" @submit.prevent="end">
            <NumberField v-model="kept" label="Keep for every day" :unit="knob.unit" :trouble="at('kept')" />
            <AButton html-type="submit" :loading="keeping" class="low">Keep it and see the truth</AButton>
          </form>
          <ProblemList :problems="problems" title="Not done:" />
          <p class="quiet">
            Steps of {{ knob.step }} {{ knob.unit }}, up to {{ words(knob.high) }}. Each test costs half a minute to set up, each
            failure four minutes of restart.
          </p>
        </section>
        <section aria-label="Tests so far">
          <h2>Tests</h2>
          <p v-if="!newest.length" class="quiet">None yet. Start low: a failure costs its restart.</p>
          <div v-else class="scroll">
            <table class="ledger">
              <thead>
                <tr>
                  <th class="number">Offset</th>
                  <th class="number">Lasted</th>
                  <th>Outcome</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="(one, index) in newest" :key="newest.length - index">
                  <td class="number figure">{{ words(one.value) }}</td>
                  <td class="number figure">{{ number(one.minutes, 1) }} min</td>
                  <td><OutcomeMark :outcome="one.outcome as Outcome" bare /> {{ outcomeFacts(one.outcome as Outcome).short }}</td>
                </tr>
              </tbody>
            </table>
          </div>
        </section>
      </div>
      <HoldCurve v-if="helped || ended" :climb="practice.climb" :truth="practice.truth?.edge ?? undefined" />
    </template>
  </LoadState>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 32px;
  margin: 16px 0;
}
.desk {
  display: grid;
  gap: 12px;
  align-content: start;
  padding: 16px;
}
.help {
  display: flex;
  gap: 8px;
  align-items: center;
}
.block {
  display: block;
}
.keep {
  padding-top: 12px;
  border-top: 1px solid var(--rule);
}
.low {
  align-self: end;
}
.scroll {
  max-height: 360px;
  overflow-y: auto;
}
@media (max-width: 860px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
