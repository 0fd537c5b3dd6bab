<!-- Second step: the rig, new or known; what this machine says of itself, where it is the one that is tuned. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, ref, watch } from 'vue'

import { useSimulator } from '../../api/benches'
import { whyOf } from '../../api/client'
import { useRigs } from '../../api/rigs'
import { useReadMachine } from '../../api/starters'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import TextField from '../../ui/TextField.vue'
import BuildEditor from './BuildEditor.vue'
import { beginWithSimulator, NEW_RIG, type NewDraft, SIMULATOR } from './newDraft'
import TermWord from '../../ui/TermWord.vue'

defineProps<{ at: (where: string) => string | undefined }>()
const draft = defineModel<NewDraft>({ required: true })
const { data: rigs } = useRigs()
const { data: simulators } = useSimulator()
const { mutateAsync: readMachine, isPending: reading } = useReadMachine()
const said = ref('')

const choices = computed(() => [
  { value: NEW_RIG, label: 'a new rig, described here' },
  { value: SIMULATOR, label: 'a new simulator, no hardware needed' },
  ...(rigs.value ?? []).map((rig) => ({ value: rig.id, label: rig.name })),
])
const kinds = computed(() => (simulators.value ?? []).map((kind) => ({ value: kind.key, label: kind.name.toLowerCase() })))
const isNew = computed(() => draft.value.rigId <= 0)

/** Another simulator has other knobs and workloads. */
watch(
  () => (draft.value.rigId === SIMULATOR ? draft.value.kind : ''),
  (key) => {
    const kind = simulators.value?.find((one) => one.key === key)
    if (kind) beginWithSimulator(draft.value, kind)
  },
)

/** What was typed stays; what is empty is filled. */
async function read(): Promise<void> {
  try {
    const found = await readMachine()
    const build = draft.value.build
    draft.value.rigName ||= found.name
    for (const part of found.build.parts ?? []) {
      const line = build.parts.find((one) => one.role.toLowerCase() === part.role.toLowerCase())
      if (line) line.name ||= part.name
      else build.parts.push({ role: part.role, name: part.name, specimen: '' })
    }
    build.driver ||= found.build.driver ?? ''
    build.firmware ||= found.build.firmware ?? ''
    build.system ||= found.build.system ?? ''
    said.value = found.silent.length
      ? `Read. The system does not tell: ${found.silent.join(', ')}.`
      : 'Read. Please look it over.'
  } catch (trouble) {
    said.value = whyOf(trouble)
  }
}
</script>

<template>
  <section class="sheet block">
    <h2><TermWord term="Rig" /></h2>
    <div class="three">
      <ChoiceField v-model="draft.rigId" label="Which rig" :options="choices" />
      <TextField v-if="isNew" v-model="draft.rigName" label="Name of the rig" :most="120" :trouble="at('rig.name')" />
      <div v-if="draft.rigId === SIMULATOR" class="pair">
        <ChoiceField v-model="draft.kind" label="Model it on" :options="kinds" />
        <NumberField v-model="draft.seed" label="Specimen" hint="any whole number" :trouble="at('rig.simulator_seed')" />
      </div>
    </div>
    <p v-if="draft.rigId === SIMULATOR" class="quiet below">
      A simulated machine that heats, throttles and fails like a real one. Every number gives another
      <TermWord term="Specimen">specimen</TermWord>, with its own luck; the same number always gives the same one.
    </p>
    <template v-else-if="draft.rigId === NEW_RIG">
      <p class="below read">
        <AButton :loading="reading" @click="read">Read it from this machine</AButton>
        <span class="quiet" role="status">{{
          said || 'Processor, memory, graphics, driver and system of the machine that Trelvo runs on; nothing leaves it.'
        }}</span>
      </p>
      <BuildEditor v-model="draft.build" class="below" />
    </template>
    <p v-else class="quiet below">Its present build is used. Change it on the Prepare page when the rig changes.</p>
  </section>
</template>

<style scoped>
.block {
  margin-bottom: 16px;
  padding: 16px;
}
.block h2 {
  margin-bottom: 8px;
}
.three {
  display: grid;
  grid-template-columns: 2fr 1.5fr 3fr;
  gap: 16px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 16px;
}
.below {
  margin-top: 12px;
}
.read {
  display: flex;
  gap: 12px;
  align-items: center;
}
@media (max-width: 1000px) {
  .three {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
