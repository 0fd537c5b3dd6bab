<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed } from 'vue'

import { useDeclared } from '../api/instruments'
import { useStarters } from '../api/starters'
import ChoiceField from '../parts/ChoiceField.vue'
import NumberField from '../parts/NumberField.vue'
import TextField from '../parts/TextField.vue'
import { emptyKnob, type KnobDraft } from './drafts'

defineProps<{ at: (where: string) => string | undefined; single?: boolean }>()
const knobs = defineModel<KnobDraft[]>({ required: true })

const ways = [
  { value: 1 as const, label: 'upwards' },
  { value: -1 as const, label: 'downwards' },
]
const { data: declared } = useDeclared()
const roles = computed(() => [
  { value: 'guess', label: 'told by its name' },
  ...(declared.value?.roles ?? []).map((role) => ({ value: role, label: role })),
])
const remove = (index: number): void => void knobs.value.splice(index, 1)
const { data: starters } = useStarters()
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
    <ChoiceField v-model="knob.away" label="Tuning direction" :options="ways" :trouble="at(`knobs.${index}.away`)" />
    <ChoiceField
      :model-value="knob.role ?? 'guess'"
      label="What it turns"
      :options="roles"
      class="role"
      @update:model-value="(role) => (knob.role = role === 'guess' ? undefined : (role as KnobDraft['role']))"
    />
    <AButton v-if="!single" type="text" class="remove" :aria-label="`Remove knob ${knob.name}`" @click="remove(index)"
      >Remove</AButton
    >
  </div>
  <p class="quiet most">A knob can have at most 2000 steps from its lowest to its highest value.</p>
  <div v-if="!single" class="add">
    <span class="quiet">Add</span>
    <AButton v-for="knob in starters?.knobs" :key="knob.key" size="small" @click="knobs.push({ ...knob })">{{
      knob.name
    }}</AButton>
    <AButton size="small" @click="knobs.push(emptyKnob())">Another knob</AButton>
  </div>
  <div v-if="at('knobs')" class="field-trouble" role="alert">{{ at('knobs') }}</div>
</template>

<style scoped>
.knob {
  display: grid;
  grid-template-columns: 2.2fr 1.2fr 0.9fr 0.9fr 1.1fr 0.9fr 0.9fr 1.3fr 1.6fr auto;
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
