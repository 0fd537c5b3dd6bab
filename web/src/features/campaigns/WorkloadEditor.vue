<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'

import ChoiceField from '../../ui/ChoiceField.vue'
import ManyField from '../../ui/ManyField.vue'
import NumberField from '../../ui/NumberField.vue'
import OptionsField from '../../ui/OptionsField.vue'
import TextField from '../../ui/TextField.vue'
import { emptyWorkload, loadKinds, loadParts, loadTechniques, type WorkloadDraft } from './drafts'

const props = defineProps<{ at: (where: string) => string | undefined; single?: boolean }>()
const workloads = defineModel<WorkloadDraft[]>({ required: true })

const measures: { value: WorkloadDraft['measure']; label: string }[] = [
  { value: 'frame rate', label: 'a frame rate' },
  { value: 'score', label: 'a score' },
  { value: 'time', label: 'a time' },
  { value: 'nothing', label: 'nothing: only watts, degrees and whether it ended well' },
]
const kinds = loadKinds.map((kind) => ({ value: kind, label: kind }))
const ways = [
  { value: 'higher', label: 'higher' },
  { value: 'lower', label: 'lower' },
]
const units: Record<string, string> = { 'frame rate': 'fps', score: 'points', time: 's', nothing: '' }

function measured(workload: WorkloadDraft, measure: WorkloadDraft['measure'] | undefined): void {
  workload.measure = measure ?? 'frame rate'
  workload.unit = units[workload.measure] ?? ''
  workload.higher_is_better = workload.measure !== 'time'
}
const trouble = (index: number, field: string): string | undefined => props.at(`workloads.${index}.${field}`)
</script>

<template>
  <div v-for="(workload, index) in workloads" :key="index" :class="['workload', { single }]">
    <TextField v-model="workload.name" label="Name" :most="120" :trouble="trouble(index, 'name')" />
    <ChoiceField
      :model-value="workload.measure"
      label="Measures"
      :options="measures"
      @update:model-value="(measure) => measured(workload, measure)"
    />
    <TextField
      v-if="workload.measure !== 'nothing'"
      v-model="workload.unit"
      label="Unit"
      :most="20"
      :trouble="trouble(index, 'unit')"
    />
    <ChoiceField
      v-if="workload.measure !== 'nothing'"
      :model-value="workload.higher_is_better ? 'higher' : 'lower'"
      label="Better is"
      :options="ways"
      :trouble="trouble(index, 'higher_is_better')"
      @update:model-value="(way) => (workload.higher_is_better = way === 'higher')"
    />
    <OptionsField v-model="workload.options" class="options" :trouble="trouble(index, 'options')" />
    <NumberField v-model="workload.minutes" label="Minutes a run" :trouble="trouble(index, 'minutes')" />
    <NumberField v-model="workload.cap_fps" label="Frame cap, if any" :trouble="trouble(index, 'cap_fps')" />
    <ChoiceField v-model="workload.kind" label="It is a" :options="kinds" class="tests" />
    <ManyField v-model="workload.parts" label="Works on" :options="loadParts" class="tests two" />
    <ManyField v-model="workload.techniques" label="Uses" :options="loadTechniques" class="tests four" />
    <AButton
      v-if="!single"
      type="text"
      class="remove"
      :aria-label="`Remove workload ${workload.name}`"
      @click="workloads.splice(index, 1)"
      >Remove</AButton
    >
  </div>
  <AButton v-if="!single" size="small" @click="workloads.push(emptyWorkload())">Add a workload</AButton>
  <div v-if="at('workloads')" class="field-trouble" role="alert">{{ at('workloads') }}</div>
</template>

<style scoped>
.workload {
  display: grid;
  grid-template-columns: 2fr 1.3fr 0.8fr 1fr 2.4fr 1.1fr 1.2fr auto;
  gap: 8px;
  align-items: start;
  margin-bottom: 12px;
  padding-bottom: 12px;
  border-bottom: 1px solid var(--rule);
}
.tests {
  grid-row: 2;
}
.two {
  grid-column: span 3;
}
.four {
  grid-column: span 3;
}
.remove {
  margin-top: 22px;
}
/* in a drawer there is less room: names and options get lines of their own */
.workload.single {
  grid-template-columns: repeat(4, minmax(0, 1fr));
}
.workload.single > :first-child,
.workload.single > .options {
  grid-column: span 4;
}
.workload.single .tests {
  grid-row: auto;
}
.workload.single .two,
.workload.single .four {
  grid-column: span 4;
}
@media (max-width: 1000px) {
  .workload {
    grid-template-columns: repeat(4, 1fr);
  }
  .tests {
    grid-row: auto;
    grid-column: span 2;
  }
}
@media (max-width: 620px) {
  .workload,
  .workload.single {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
  .workload.single > :first-child,
  .workload.single > .options,
  .workload.single .two,
  .workload.single .four,
  .two,
  .four {
    grid-column: span 2;
  }
}
</style>
