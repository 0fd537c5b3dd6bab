<!-- An entry of the journal, new or corrected. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { Button as AButton } from 'ant-design-vue'
import { nextTick, ref, watch } from 'vue'

import { type Entry, type EntryBody, useJournalActs } from '../../api/journal'
import type { Schemas } from '../../api/client'
import { useProblems } from '../../composables/useProblems'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'

const props = defineProps<{ rigId: number; entry: Entry | null }>()
const open = defineModel<boolean>('open', { required: true })
const { write, correct } = useJournalActs()
const { problems, take, clear, at } = useProblems()
const kind = ref<EntryBody['kind'] | undefined>('thought')
const text = ref('')
const when = ref('')
const roomC = ref<number | null>(null)
const body = ref<HTMLElement>()
/** The entry as it was when the form was opened. */
const seen = ref<Schemas['EntryChange']['seen']>(null)

watch(open, async (isOpen) => {
  if (!isOpen) return
  clear()
  if (props.entry) {
    kind.value = props.entry.kind as EntryBody['kind']
    text.value = props.entry.text
    when.value = props.entry.at.slice(0, 10)
    roomC.value = props.entry.room_c ?? null
    seen.value = { kind: props.entry.kind, text: props.entry.text, room_c: props.entry.room_c }
  }
  await nextTick()
  body.value?.querySelector('textarea')?.focus()
})

async function save(): Promise<void> {
  clear()
  const day = /^\d{4}-\d{2}-\d{2}$/.test(when.value) ? `${when.value}T12:00:00` : undefined
  if (when.value && !day) {
    problems.value = [
      { where: 'at', what: `${when.value} is no day.`, todo: 'Type it as 2026-05-03, or leave it empty for now.' },
    ]
    return
  }
  const content: EntryBody = {
    kind: kind.value ?? 'thought',
    text: text.value,
    at: day ? new Date(day).toISOString() : undefined,
    room_c: roomC.value,
  }
  try {
    if (props.entry) await correct.mutateAsync({ id: props.entry.id, body: { ...content, seen: seen.value } })
    else await write.mutateAsync({ rigId: props.rigId, body: content })
    text.value = when.value = ''
    roomC.value = null
    open.value = false
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <SideSheet v-model:open="open" :title="entry ? 'Correct this entry' : 'Into the journal'" :width="480">
    <form ref="body" class="form" @submit.prevent="save">
      <ChoiceField v-model="kind" label="What happened" :options="registry.journal_kinds" :trouble="at('kind')" />
      <TextField v-model="text" label="In your words (Markdown is understood)" :lines="8" :most="20000" />
      <span v-if="at('text')" class="field-trouble" role="alert">{{ at('text') }}</span>
      <TextField v-model="when" label="Day (blank = now)" hint="2026-05-03" :trouble="at('at')" />
      <NumberField v-model="roomC" label="Room" unit="°C" hint="for a change of season" :trouble="at('room_c')" />
      <ProblemList :problems="problems" title="Not saved; what you typed is still here:" />
      <AButton type="primary" html-type="submit" :loading="write.isPending.value || correct.isPending.value">Save</AButton>
    </form>
  </SideSheet>
</template>

<style scoped>
.form {
  display: grid;
  gap: 12px;
}
</style>
