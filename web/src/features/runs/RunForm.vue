<script setup lang="ts">
import { outcomes, registry } from '../../api/registry'
import { Button as AButton } from 'ant-design-vue'
import { useSessionStorage } from '@vueuse/core'
import { computed, nextTick, ref, useId, watch } from 'vue'

import { type Campaign, testable } from '../../api/campaigns'
import { useLogRun } from '../../api/runs'
import { useSettings } from '../../api/settings'
import ChoiceField from '../../ui/ChoiceField.vue'
import KeyCap from '../../ui/KeyCap.vue'
import NumberField from '../../ui/NumberField.vue'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import TextField from '../../ui/TextField.vue'
import MoreFigures from './MoreFigures.vue'
import { asRunIn, emptyRun, nextRun, readers, type RunDraft } from './runDraft'
import { useSayLogged } from '../../composables/useSayLogged'
import { useSendId } from '../../composables/useSendId'
import SideSheet from '../../ui/SideSheet.vue'

const props = defineProps<{ campaign: Campaign; preset: { settingId?: number; workloadId?: number; minutes?: number } }>()
const open = defineModel<boolean>('open', { required: true })

const { data: settings } = useSettings(() => props.campaign.id, open)
const { mutateAsync, isPending } = useLogRun()
const sayLogged = useSayLogged()
const { problems, take, clear, at } = useProblems()
/** Kept over a reload and the back button, until it is logged. */
const draft = useSessionStorage<RunDraft>(`trelvo-run-${props.campaign.id}`, emptyRun(), { mergeDefaults: true })
const body = ref<HTMLElement>()
const formId = useId()

const workload = computed(() => testable(props.campaign).find((one) => one.id === draft.value.workloadId))
const workloadChoices = computed(() => testable(props.campaign).map((one) => ({ value: one.id, label: one.title })))
const settingChoices = computed(() => (settings.value ?? []).map((one) => ({ value: one.id, label: one.title })))
/** What the form asks for: the figures that people read off, lows for frame rates only. */
const asked = computed(() =>
  registry.value.figures.filter((one) => one.line && (one.quantity !== 'frame rate' || workload.value?.measure === 'frame rate')),
)
/** A workload without a result is only said to have ended well, with what was read meanwhile. */
const hasResult = computed(() => workload.value?.measure !== 'nothing')
const needsValue = computed(() => draft.value.outcome === 'completed' && hasResult.value)

/** The watts are read by whom this campaign's watts are read by, as the quick line has it too, unless the user chose another. */
function offerReader(): void {
  const choices = readers(props.campaign.instruments, 'power').map((one) => one.value)
  if (!choices.includes(draft.value.powerBy)) draft.value.powerBy = props.campaign.power_reader?.toString() ?? 'unknown'
}

watch(open, async (isOpen) => {
  if (!isOpen) return
  clear()
  offerReader()
  draft.value.settingId = props.preset.settingId ?? draft.value.settingId ?? settings.value?.[0]?.id
  draft.value.workloadId = props.preset.workloadId ?? draft.value.workloadId ?? props.campaign.workloads[0]?.id
  draft.value.minutes = props.preset.minutes ?? draft.value.minutes
  await nextTick()
  focusFirst()
})

/** Where typing begins: the result, or what was read where there is none. */
const FIRST = '.value input, .number-field input'
const focusFirst = (): void => body.value?.querySelector<HTMLInputElement>(FIRST)?.focus()

/** Settings that come later than the form fill what is still empty, and nothing else. */
watch(settings, (found) => {
  if (open.value) draft.value.settingId ??= props.preset.settingId ?? found?.[0]?.id
})

/** Digits choose an outcome while no field for text has the focus. */
function onKey(event: KeyboardEvent): void {
  if ((event.target as HTMLElement).closest('input:not([type=radio]), textarea') || event.ctrlKey || event.metaKey) return
  const found = outcomes.value.find((entry) => entry.key === event.key)
  if (found) draft.value.outcome = found.outcome
}

/** The server asks where a result is far from all that is known. */
const question = computed(() => problems.value.find((one) => one.where === 'sure'))

const sendId = useSendId()
async function log(another: boolean, sure = false): Promise<void> {
  clear()
  if (needsValue.value && draft.value.value === null) {
    problems.value = [{ where: 'value', what: 'A completed run has a result.', todo: 'Type it, or say how else the run ended.' }]
    return
  }
  try {
    const typed = { ...asRunIn(draft.value, registry.value.figures ?? []), ...(hasResult.value ? {} : { value: null }) }
    const run = await mutateAsync({ campaignId: props.campaign.id, body: { ...typed, sure, uid: sendId.of(typed) } })
    sendId.done()
    sayLogged(run)
    draft.value = nextRun(draft.value)
    if (!another) open.value = false
    else focusFirst()
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <SideSheet v-model:open="open" title="Log a run" :width="480" :start="FIRST" :body-style="{ padding: '16px 24px' }">
    <form :id="formId" ref="body" class="form-grid" @submit.prevent="log(false)" @keydown="onKey">
      <ChoiceField v-model="draft.settingId" label="Setting" :options="settingChoices" :trouble="at('setting')" class="wide" />
      <ChoiceField
        v-model="draft.workloadId"
        label="Workload"
        :options="workloadChoices"
        :trouble="at('workload')"
        class="wide"
      />
      <fieldset class="wide">
        <legend class="field-name">How it ended</legend>
        <div class="outcomes">
          <label
            v-for="entry in outcomes"
            :key="entry.outcome"
            :class="{ on: draft.outcome === entry.outcome }"
            :title="entry.meaning"
          >
            <input v-model="draft.outcome" class="visually-hidden" type="radio" name="outcome" :value="entry.outcome" />
            <OutcomeMark :outcome="entry.outcome" bare /> <span class="short">{{ entry.short }}</span>
            <KeyCap>{{ entry.key }}</KeyCap>
          </label>
        </div>
      </fieldset>
      <NumberField
        v-if="hasResult"
        v-model="draft.value"
        class="value"
        :label="workload?.measure === 'time' ? 'Time taken' : workload?.measure === 'score' ? 'Score' : 'Average frame rate'"
        :unit="workload?.unit"
        :trouble="at('value')"
      />
      <NumberField v-model="draft.minutes" label="Lasted" unit="min" :trouble="at('duration_s')" />
      <template v-for="figure in asked" :key="figure.word">
        <NumberField
          :model-value="draft.read[figure.word] ?? null"
          :label="figure.name"
          :unit="figure.unit"
          :trouble="at(figure.word)"
          @update:model-value="(value) => (draft.read[figure.word] = value)"
        />
        <ChoiceField
          v-if="figure.word === 'power_w'"
          v-model="draft.powerBy"
          label="Power read by"
          :options="readers(campaign.instruments, 'power')"
        />
      </template>
      <MoreFigures v-model="draft.more" :instruments="campaign.instruments" :at="at" class="wide" />
      <TextField v-model="draft.fan" label="Fan setting" hint="automatic, 45 %" :most="60" />
      <TextField v-model="draft.note" label="Note" :lines="2" :most="4000" class="wide" />
    </form>
    <template #footer>
      <ProblemList
        :problems="problems"
        :title="question ? 'Is that right?' : 'Not logged; what you typed is still here:'"
        class="trouble"
      />
      <div class="acts">
        <AButton type="primary" html-type="submit" :form="formId" :loading="isPending">Log the run</AButton>
        <AButton v-if="question" :disabled="isPending" @click="log(false, true)">It is right, log it</AButton>
        <AButton :disabled="isPending" @click="log(true)">Log, then another like it</AButton>
      </div>
    </template>
  </SideSheet>
</template>

<style scoped>
fieldset {
  margin: 0;
  padding: 0;
  border: 0;
}
.outcomes {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px;
}
.outcomes label {
  position: relative;
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 36px;
  padding: 4px 10px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  cursor: pointer;
}
.outcomes label.on {
  border-color: var(--petrol);
  background: var(--wash);
}
.outcomes label:focus-within {
  outline: 2px solid var(--petrol);
  outline-offset: 2px;
}
.short {
  flex: 1;
}
.trouble {
  margin-bottom: 8px;
}
.acts {
  display: flex;
  gap: 8px;
  padding: 4px 8px;
}
</style>
