<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'

import ChoiceField from '../parts/ChoiceField.vue'
import NumberField from '../parts/NumberField.vue'
import TextField from '../parts/TextField.vue'
import { emptyKnob, type KnobDraft, usualKnobs } from './drafts'

defineProps<{ at: (where: string) => string | undefined }>()
const knobs = defineModel<KnobDraft[]>({ required: true })

const ways = [
  { value: 1 as const, label: 'upwards' },
  { value: -1 as const, label: 'downwards' },
]
const remove = (index: number): void => void knobs.value.splice(index, 1)
const addUsual = (name: string): void => void knobs.value.push({ ...usualKnobs[name]! })
</script>

<template>
  <div v-for="(knob, index) in knobs" :key="index" class="knob">
    <TextField v-model="knob.name" label="Name" :most="80" :trouble="at(`knobs.${index}.name`)" />
    <TextField v-model="knob.key" label="Key" hint="core" :most="24" :trouble="at(`knobs.${index}.key`)" />
    <TextField v-model="knob.unit" label="Unit" :most="12" />
    <NumberField v-model="knob.stock" label="Stock" :trouble="at(`knobs.${index}.stock`)" />
    <NumberField v-model="knob.step" label="Smallest step" :trouble="at(`knobs.${index}.step`)" />
    <NumberField v-model="knob.low" label="Lowest" :trouble="at(`knobs.${index}.low`)" />
    <NumberField v-model="knob.high" label="Highest" :trouble="at(`knobs.${index}.high`)" />
    <ChoiceField v-model="knob.away" label="Away from stock is" :options="ways" :trouble="at(`knobs.${index}.away`)" />
    <AButton type="text" class="remove" :aria-label="`Remove knob ${knob.name}`" @click="remove(index)">Remove</AButton>
  </div>
  <div class="add">
    <span class="quiet">Add</span>
    <AButton v-for="(_, name) in usualKnobs" :key="name" size="small" @click="addUsual(String(name))">{{ name }}</AButton>
    <AButton size="small" @click="knobs.push(emptyKnob())">Another knob</AButton>
  </div>
  <div v-if="at('knobs')" class="field-trouble" role="alert">{{ at('knobs') }}</div>
</template>

<style scoped>
.knob {
  display: grid;
  grid-template-columns: 2.2fr 1.3fr 0.9fr 1fr 1.1fr 1fr 1fr 1.5fr auto;
  gap: 8px;
  align-items: start;
  margin-bottom: 12px;
}
.remove {
  margin-top: 22px;
}
.add {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
@media (max-width: 1000px) {
  .knob {
    grid-template-columns: repeat(4, 1fr);
    padding-bottom: 12px;
    border-bottom: 1px solid var(--rule);
  }
}
</style>
