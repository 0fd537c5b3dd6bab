<!-- Puts a run right that was written down wrongly, or says how one ended that broke off; what stood there is kept. -->
<script setup lang="ts">
import { Button as AButton, Modal as AModal } from 'ant-design-vue'
import { computed, ref, watch } from 'vue'

import { type Outcome, type Run, useCorrectRun } from '../api/runs'
import { useProblems } from '../composables/useProblems'
import ChoiceField from '../parts/ChoiceField.vue'
import NumberField from '../parts/NumberField.vue'
import ProblemList from '../parts/ProblemList.vue'
import TextField from '../parts/TextField.vue'
import { outcomes } from '../words/outcomes'

const props = defineProps<{ run: Run }>()
const { mutateAsync, isPending } = useCorrectRun()
const { problems, take, clear, at } = useProblems()
const open = ref(false)
const lost = computed(() => props.run.outcome === 'contact lost')
/** Completed, and nobody has said yet what it showed: as after a run that a bench sent in. */
const lacksResult = computed(() => props.run.outcome === 'completed' && props.run.value == null)
const title = computed(() =>
  lost.value ? 'How did this run end?' : lacksResult.value ? 'What did the workload show?' : 'Correct this run',
)
const draft = ref(drafted())
const choices = outcomes.map((one) => ({ value: one.outcome, label: `${one.short}: ${one.meaning}` }))

function drafted() {
  const { outcome, value, duration_s } = props.run
  return { outcome: outcome as Outcome, value, duration_s, why: '' }
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
    await mutateAsync({ id: props.run.id, body: draft.value })
    open.value = false
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <AButton v-if="lost" type="primary" @click="open = true">Say how it ended</AButton>
  <AButton v-else-if="lacksResult" type="primary" @click="open = true">Add the result</AButton>
  <AButton v-else size="small" type="text" @click="open = true">Correct</AButton>
  <AModal v-model:open="open" :title="title" ok-text="Save" cancel-text="Cancel" :confirm-loading="isPending" @ok="store">
    <form class="form-grid" @submit.prevent="store">
      <p v-if="!lacksResult" class="wide quiet">What stands there now is kept and shown with the run.</p>
      <ChoiceField v-model="draft.outcome" class="wide" label="How it ended" :options="choices" :trouble="at('outcome')" />
      <NumberField v-model="draft.value" label="Result" :unit="run.unit" :trouble="at('value')" />
      <NumberField v-model="draft.duration_s" label="Lasted" unit="s" :trouble="at('duration_s')" />
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

<style scoped>
.wide {
  grid-column: 1 / -1;
}
</style>
