<!-- How it ended, by whoever saw it: one key an outcome. -->
<script setup lang="ts">
import { outcomes } from '../../api/registry'
import { Modal as AModal } from 'ant-design-vue'
import { computed, ref, watch } from 'vue'

import { useEndLive } from '../../api/live'
import type { Outcome } from '../../api/runs'
import KeyCap from '../../ui/KeyCap.vue'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import TextField from '../../ui/TextField.vue'

const props = defineProps<{ runId: number; all?: boolean }>()
const open = defineModel<boolean>('open', { required: true })
const { mutateAsync } = useEndLive()
const { problems, take, clear } = useProblems()
const note = ref('')
/** A crash is one of the failures; the answer to a lost contact may be any outcome. */
const choices = computed(() => outcomes.value.filter((entry) => props.all || entry.failed))
watch(open, () => clear())

async function choose(outcome: Outcome): Promise<void> {
  clear()
  try {
    await mutateAsync({ runId: props.runId, outcome, note: note.value })
    open.value = false
    note.value = ''
  } catch (trouble) {
    take(trouble)
  }
}
function byKey(event: KeyboardEvent): void {
  if ((event.target as HTMLElement).closest('input')) return
  const found = choices.value.find((entry) => entry.key === event.key)
  if (found) void choose(found.outcome)
}
</script>

<template>
  <AModal v-model:open="open" :title="all ? 'What happened?' : 'How did it crash?'" :footer="null">
    <div tabindex="-1" @keydown="byKey">
      <button v-for="entry in choices" :key="entry.outcome" type="button" class="choice" @click="choose(entry.outcome)">
        <OutcomeMark :outcome="entry.outcome" bare :size="20" />
        <span
          ><strong>{{ entry.short }}</strong> <span class="quiet">{{ entry.meaning }}</span></span
        >
        <KeyCap>{{ entry.key }}</KeyCap>
      </button>
      <TextField v-model="note" label="Anything to remember" hint="smelled warm; the fan had stopped" :most="900" class="note" />
      <ProblemList :problems="problems" title="Not saved:" />
    </div>
  </AModal>
</template>

<style scoped>
.choice {
  display: grid;
  grid-template-columns: 28px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: center;
  width: 100%;
  min-height: 48px;
  padding: 4px 8px;
  border: 0;
  border-bottom: 1px solid var(--rule);
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.choice:hover {
  background: var(--wash);
}
.note {
  margin: 12px 0;
}
</style>
