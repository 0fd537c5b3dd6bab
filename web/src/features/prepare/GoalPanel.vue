<!-- What the campaign is for, in numbers that are changed in place; beside it how many settings would then meet it. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { Button as AButton, Checkbox as ACheckbox } from 'ant-design-vue'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'

import { type Schemas, whyOf } from '../../api/client'
import { type TermsIn, useGoal, useSetGoal, useSetTerms, useTryGoal } from '../../api/goal'
import { useProblems } from '../../composables/useProblems'
import { useStageCampaign } from '../../composables/useStageCampaign'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import TextField from '../../ui/TextField.vue'
import { capital, counted } from '../../ui/words/format'

const campaign = useStageCampaign()
const { data: view } = useGoal(() => campaign.value.id)
const { mutateAsync: setGoal, isPending: settingGoal } = useSetGoal()
const { mutateAsync: setTerms, isPending: settingTerms } = useSetTerms()
const { problems, take, clear, at } = useProblems()

const goal = ref(campaign.value.goal)
const aim = ref(campaign.value.aim)
const name = ref(campaign.value.name)
const draft = ref(drafted())
const touched = ref(false)

/** Shares as percent, as they are typed. */
function drafted(terms = campaign.value.terms) {
  return {
    least_speed: terms.least_speed == null ? null : terms.least_speed * 100,
    lows_too: terms.lows_too,
    quiet_by: terms.quiet_by ?? 'degrees',
    most_power_w: terms.most_power_w ?? null,
    frames: terms.frames ?? null,
    low_frames: terms.low_frames ?? null,
    most_temp_c: terms.most_temp_c ?? null,
    shown: terms.shown * 100,
    hours: terms.hours,
    sure: terms.sure * 100,
    part: terms.part,
  }
}
/** What stood in the form when it was filled in: where another window has changed it since, saving is refused, and says so. */
const seen = ref(standing())
function standing() {
  const { goal, aim, name, terms } = campaign.value
  return { goal: { goal: goal as 'speed', aim, name }, terms: shown(terms) }
}
function shown(terms: typeof campaign.value.terms): TermsIn {
  const words = [
    'least_speed',
    'lows_too',
    'most_power_w',
    'frames',
    'low_frames',
    'most_temp_c',
    'shown',
    'hours',
    'sure',
    'quiet_by',
    'part',
  ] as const
  return Object.fromEntries(words.map((word) => [word, terms[word]])) as TermsIn
}
/** Shows what is there now, and drops what was typed. */
function readAgain(): void {
  clear()
  touched.value = false
  fill()
}
function fill(): void {
  draft.value = drafted()
  goal.value = campaign.value.goal
  aim.value = campaign.value.aim
  name.value = campaign.value.name
  seen.value = standing()
}
// what someone has begun to change is never overwritten by an answer that comes late
watch(
  () => [campaign.value.terms, campaign.value.goal, campaign.value.aim, campaign.value.name],
  () => {
    if (!touched.value) fill()
  },
)
/** As it is sent: shares instead of percent; for another goal only what has been said. */
const typed = computed<TermsIn>(() => {
  const share = (percent: number | null): number | null => (percent == null ? null : percent / 100)
  const { least_speed, shown, sure, ...rest } = draft.value
  const all = { ...rest, least_speed: share(least_speed), shown: share(shown), sure: share(sure) }
  if (goal.value === campaign.value.goal || begunFor === goal.value) return all
  return { shown: all.shown, hours: all.hours, sure: all.sure, part: all.part }
})
/** What is typed is tried while it is typed: what it would change shows before it is saved. */
const tried = refDebounced(
  computed(() => (touched.value ? { goal: goal.value as 'speed', terms: typed.value as Schemas['TermsIn'] } : null)),
  400,
)
const { data: trial, error: trialError } = useTryGoal(() => campaign.value.id, tried)
const would = computed(() => (touched.value && trial.value?.goal === goal.value ? trial.value : undefined))
const changeable = computed(() => (goal.value === campaign.value.goal ? view.value?.changeable : would.value?.changeable))
/** Another goal begins with its own usual numbers; what was typed before stays. */
let begunFor = ''
watch(would, (found) => {
  if (!found || found.goal === campaign.value.goal || begunFor === found.goal) return
  begunFor = found.goal
  const usual = drafted(found.terms)
  const said = Object.entries(draft.value).filter(([word, value]) => value !== null && !['lows_too', 'quiet_by'].includes(word))
  draft.value = { ...usual, ...Object.fromEntries(said) }
})
const quietBy = [
  { value: 'degrees' as const, label: 'degrees over room' },
  { value: 'noise' as const, label: 'dB(A)' },
]
const parts = computed(() =>
  registry.value.parts
    .filter((part) => part !== 'room')
    .map((part) => ({ value: part, label: part === 'tuned part' ? 'whatever is tuned' : part })),
)
/** Whether the goal is about watts or degrees, so that it matters of which part. */
const ofPart = computed(
  () => registry.value.goals.find((one) => one.goal === goal.value)?.saves || asks('most_power_w') || asks('most_temp_c'),
)
const asks = (word: string): boolean => changeable.value?.includes(word) ?? false
const choices = computed(() => registry.value.goals.map((one) => ({ value: one.goal, label: one.label })))
const meets = computed(() => view.value?.goal.judged.filter((one) => one.standing === 'meets it').length ?? 0)
const may = computed(() => view.value?.goal.judged.filter((one) => one.standing === 'may meet it').length ?? 0)

async function store(): Promise<void> {
  clear()
  const always = ['shown', 'hours', 'sure', 'part']
  try {
    const changed = goal.value !== campaign.value.goal
    if (changed || aim.value !== campaign.value.aim || name.value !== campaign.value.name) {
      const body = { goal: goal.value as 'speed', aim: aim.value, name: name.value, seen: seen.value.goal }
      await setGoal({ campaignId: campaign.value.id, body })
    }
    const body = Object.fromEntries(
      Object.entries(typed.value).filter(([word]) => always.includes(word) || asks(word)),
    ) as TermsIn
    await setTerms({ campaignId: campaign.value.id, body: { ...body, seen: changed ? undefined : seen.value.terms } })
    touched.value = false
    fill()
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <section id="goal" aria-label="Goal" data-test="goal-panel">
    <h2>Goal</h2>
    <p>
      {{ capital(campaign.goal_words?.text) }}.
      <strong>{{ counted(meets, 'setting') }} {{ meets === 1 ? 'meets' : 'meet' }} it</strong>, {{ may }} may.
      {{ campaign.goal_far?.text }}
    </p>
    <p v-if="would" class="would" role="status" data-test="would">
      With this: <strong>{{ counted(would.meets, 'setting') }} would meet it</strong>, {{ would.may }} may. {{ would.far.text }}
    </p>
    <p v-else-if="touched && trialError" class="quiet">{{ whyOf(trialError) }}</p>
    <p v-for="why in would?.against ?? view?.goal.against" :key="why.code" class="caution">{{ why.text }}</p>
    <form class="form-grid" @input="touched = true" @change="touched = true" @submit.prevent="store">
      <ChoiceField v-model="goal" label="Goal" :options="choices" @update:model-value="touched = true" />
      <TextField v-model="name" label="Name of the campaign" :most="160" :trouble="at('name')" />
      <TextField v-model="aim" label="In your own words" :most="300" />
      <ChoiceField
        v-if="asks('quiet_by')"
        v-model="draft.quiet_by"
        label="Measured by"
        :options="quietBy"
        @update:model-value="touched = true"
      />
      <NumberField v-if="asks('frames')" v-model="draft.frames" label="Hold on average" unit="fps" :trouble="at('frames')" />
      <NumberField
        v-if="asks('low_frames')"
        v-model="draft.low_frames"
        label="1 % low at least"
        unit="fps"
        hint="lows do not count"
        :trouble="at('low_frames')"
      />
      <NumberField
        v-if="asks('least_speed')"
        v-model="draft.least_speed"
        label="Keep at least, of stock’s speed"
        unit="%"
        :trouble="at('least_speed')"
      />
      <NumberField
        v-if="asks('most_power_w')"
        v-model="draft.most_power_w"
        label="Mean power at most"
        unit="W"
        hint="no limit"
        :trouble="at('most_power_w')"
      />
      <NumberField
        v-if="asks('most_temp_c')"
        v-model="draft.most_temp_c"
        label="Highest temperature at most"
        unit="°C"
        hint="no limit"
        :trouble="at('most_temp_c')"
      />
      <ChoiceField
        v-if="ofPart"
        v-model="draft.part"
        label="Watts and degrees of"
        :options="parts"
        :trouble="at('part')"
        @update:model-value="touched = true"
      />
      <NumberField v-model="draft.hours" label="Accept one failure in" unit="h" :trouble="at('hours')" />
      <NumberField v-model="draft.sure" label="Stability: be sure to" unit="%" :trouble="at('sure')" />
      <NumberField v-model="draft.shown" label="Everything else: be sure to" unit="%" :trouble="at('shown')" />
      <ACheckbox v-if="asks('lows_too')" v-model:checked="draft.lows_too" @change="touched = true"
        >The 1 % lows are to be kept as well</ACheckbox
      >
      <ProblemList class="wide" :problems="problems" title="Not saved:" />
      <span v-if="at('seen')" class="wide"
        ><AButton size="small" @click="readAgain">Show what is there now; drop what I typed</AButton></span
      >
      <span class="wide"
        ><AButton
          html-type="submit"
          :type="touched ? 'primary' : 'default'"
          :disabled="!touched"
          :loading="settingGoal || settingTerms"
          >Save the goal</AButton
        ></span
      >
    </form>
  </section>
</template>

<style scoped>
form {
  margin-top: 12px;
}
</style>
