<!-- Hours of use that went well, or a failure in use. -->
<script setup lang="ts">
import { outcomes } from '../../api/registry'
import { Button as AButton } from 'ant-design-vue'
import { computed, nextTick, ref, watch } from 'vue'

import type { Campaign } from '../../api/campaigns'
import { testable } from '../../api/campaigns'
import { type KeptSetting, useKeptSettingActs } from '../../api/keep'
import type { Outcome } from '../../api/runs'
import { sayWithUndo } from '../../composables/sayWithUndo'
import { useProblems } from '../../composables/useProblems'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'

const props = defineProps<{ keptSetting: KeptSetting; campaign?: Campaign }>()
const what = defineModel<'hours' | 'failure' | null>('what', { required: true })
const open = computed({ get: () => what.value !== null, set: (on) => !on && (what.value = null) })
const failing = computed(() => what.value === 'failure')
const { logUse, removeUse } = useKeptSettingActs()
const { problems, take, clear, at } = useProblems()
const hours = ref<number | null>(null)
const outcome = ref<Outcome | undefined>('program crash')
const minutes = ref<number | null>(null)
const workloadId = ref<number | undefined>()
const roomC = ref<number | null>(null)
const note = ref('')
const body = ref<HTMLElement>()
const failures = computed(() =>
  outcomes.value.filter((one) => one.failed).map((one) => ({ value: one.outcome, label: `${one.short}: ${one.meaning}` })),
)
const workloads = computed(() => [
  { value: 0, label: 'everyday use, nothing of the campaign' },
  ...(props.campaign ? testable(props.campaign).map((one) => ({ value: one.id, label: one.title })) : []),
])
const shown = ref<'hours' | 'failure'>('hours')
watch(what, async (now) => {
  if (!now) return
  shown.value = now
  clear()
  await nextTick()
  body.value?.querySelector<HTMLInputElement>('input:not([type=search])')?.focus()
})

async function save(): Promise<void> {
  clear()
  const failed = failing.value
  try {
    const logged = await logUse.mutateAsync({
      id: props.keptSetting.id,
      body: {
        hours: hours.value ?? 0,
        outcome: failed ? outcome.value : undefined,
        minutes: failed ? minutes.value : null,
        workload_id: workloadId.value || null,
        room_c: roomC.value,
        note: note.value,
      },
    })
    hours.value = minutes.value = roomC.value = null
    note.value = ''
    open.value = false
    sayWithUndo('use', failed ? 'Failure logged.' : 'Hours logged.', () => removeUse.mutateAsync(logged.entry_id))
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <SideSheet
    v-model:open="open"
    :title="shown === 'failure' ? `${keptSetting.name} failed in use` : `Use of ${keptSetting.name}`"
    :width="420"
  >
    <form ref="body" class="form" @submit.prevent="save">
      <NumberField
        v-model="hours"
        :label="shown === 'failure' ? 'Hours of use since the last entry' : 'Hours of use without a failure'"
        unit="h"
        :trouble="at('hours')"
      />
      <template v-if="shown === 'failure'">
        <ChoiceField v-model="outcome" label="How it failed" :options="failures" :trouble="at('outcome')" />
        <NumberField v-model="minutes" label="It had run for" unit="min" hint="until it failed" :trouble="at('minutes')" />
      </template>
      <ChoiceField v-model="workloadId" label="With" :options="workloads" hint="everyday use, nothing of the campaign" />
      <NumberField v-model="roomC" label="Room" unit="°C" hint="if it matters" :trouble="at('room_c')" />
      <TextField v-model="note" label="Note" :lines="2" :most="4000" />
      <ProblemList :problems="problems" title="Not logged; what you typed is still here:" />
      <AButton type="primary" html-type="submit" :loading="logUse.isPending.value">{{
        shown === 'failure' ? 'Log the failure' : 'Log the hours'
      }}</AButton>
    </form>
  </SideSheet>
</template>

<style scoped>
.form {
  display: grid;
  gap: 12px;
}
</style>
