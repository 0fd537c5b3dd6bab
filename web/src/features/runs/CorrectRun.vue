<!-- Puts a run right that was written down wrongly, or says how one ended that broke off; what stood there is kept. -->
<script setup lang="ts">
import { outcomes } from '../../api/registry'
import { Button as AButton, Modal as AModal } from 'ant-design-vue'
import { computed, ref, watch } from 'vue'

import { testable, useCampaign } from '../../api/campaigns'
import { type CorrectionIn, type Outcome, type Run, useCorrectRun } from '../../api/runs'
import { useSettings } from '../../api/settings'
import { useProblems } from '../../composables/useProblems'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import TextField from '../../ui/TextField.vue'
import TimeField from '../../ui/TimeField.vue'

const props = defineProps<{ run: Run }>()
const { mutateAsync, isPending } = useCorrectRun()
const { problems, take, clear, at } = useProblems()
const open = ref(false)
const { data: campaign } = useCampaign(() => props.run.campaign_id)
const { data: settings } = useSettings(() => props.run.campaign_id, open)
const lost = computed(() => props.run.outcome === 'connection lost')
/** Completed, and nobody has said yet what it showed: as after a run that a bench sent in. */
const lacksResult = computed(() => props.run.outcome === 'completed' && props.run.value == null)
const title = computed(() =>
  lost.value ? 'How did this run end?' : lacksResult.value ? 'What did the workload show?' : 'Correct this run',
)
const draft = ref(drafted())
const choices = computed(() => outcomes.value.map((one) => ({ value: one.outcome, label: `${one.short}: ${one.meaning}` })))

function drafted() {
  const { outcome, value, duration_s, setting_id, workload_id, started_at, fan } = props.run
  return {
    outcome: outcome as Outcome,
    value,
    duration_s,
    setting_id,
    workload_id,
    started_at: local(started_at),
    fan,
    why: '',
    figures: props.run.figures.filter((one) => !one.replaced).map((one) => ({ figure: one, value: one.value as number | null })),
  }
}
/** As a field for date and time takes it: in the browser's own time. */
function local(at: string): string {
  const moment = new Date(at)
  return new Date(moment.getTime() - moment.getTimezoneOffset() * 60_000).toISOString().slice(0, 16)
}
/** What differs from what stands there: an unchanged field is not sent, and corrects nothing. */
function changes(): CorrectionIn {
  const { figures, started_at, why, ...rest } = draft.value
  const run = props.run as unknown as Record<string, unknown>
  const moved = Object.fromEntries(Object.entries(rest).filter(([name, value]) => value !== run[name]))
  return {
    ...moved,
    ...(started_at && started_at !== local(props.run.started_at) ? { started_at: new Date(started_at).toISOString() } : {}),
    figures: figures
      .filter((one) => one.value !== one.figure.value)
      .map((one) => ({ figure_id: one.figure.id, value: one.value })),
    why,
  }
}
// what someone has begun to type is never overwritten by an answer that comes late
watch(open, (isOpen) => {
  if (!isOpen) return
  clear()
  draft.value = drafted()
})

async function store(): Promise<void> {
  clear()
  try {
    await mutateAsync({ id: props.run.id, body: changes() })
    open.value = false
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <AButton v-if="lost" id="how-it-ended" type="primary" @click="open = true">Say how it ended</AButton>
  <AButton v-else-if="lacksResult" type="primary" @click="open = true">Add the result</AButton>
  <AButton v-else size="small" type="text" @click="open = true">Correct</AButton>
  <AModal v-model:open="open" :title="title" ok-text="Save" cancel-text="Cancel" :confirm-loading="isPending" @ok="store">
    <form class="form-grid" @submit.prevent="store">
      <p v-if="!lacksResult" class="wide quiet">What stands there now is kept and shown with the run.</p>
      <ChoiceField v-model="draft.outcome" class="wide" label="How it ended" :options="choices" :trouble="at('outcome')" />
      <NumberField v-if="run.unit" v-model="draft.value" label="Result" :unit="run.unit" :trouble="at('value')" />
      <NumberField v-model="draft.duration_s" label="Lasted" unit="s" :trouble="at('duration_s')" />
      <template v-if="!lost && !lacksResult">
        <ChoiceField
          v-model="draft.setting_id"
          class="wide"
          label="Setting"
          :options="(settings ?? []).map((one) => ({ value: one.id, label: one.title }))"
          :trouble="at('setting_id')"
        />
        <ChoiceField
          v-model="draft.workload_id"
          class="wide"
          label="Workload, with its options"
          :options="campaign ? testable(campaign).map((one) => ({ value: one.id, label: one.title })) : []"
          :trouble="at('workload_id')"
        />
        <TimeField v-model="draft.started_at" label="Begun" dated :trouble="at('started_at')" />
        <TextField v-model="draft.fan" label="Fan setting" :most="60" :trouble="at('fan')" />
        <NumberField
          v-for="one in draft.figures"
          :key="one.figure.id"
          v-model="one.value"
          :label="one.figure.name"
          :unit="one.figure.unit"
          :trouble="at(`figures.${one.figure.id}`)"
        />
      </template>
      <TextField
        v-model="draft.why"
        class="wide"
        :label="lost || lacksResult ? 'Anything to remember' : 'What was wrong'"
        :hint="lost || lacksResult ? '' : 'decimal point in the wrong place'"
        :most="300"
      />
      <ProblemList class="wide" :problems="problems" title="Not saved:" />
    </form>
  </AModal>
</template>
