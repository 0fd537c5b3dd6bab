<script setup lang="ts">
import { registry } from '../../api/registry'
import { Button as AButton } from 'ant-design-vue'
import { computed } from 'vue'

import { useStarters } from '../../api/starters'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import TextField from '../../ui/TextField.vue'
import { emptyKnob, type KnobDraft, knobLike } from './drafts'

/** changed: a knob that settings were run with, whose key, unit and stock stay as they are. */
defineProps<{ at: (where: string) => string | undefined; single?: boolean; changed?: boolean }>()
const knobs = defineModel<KnobDraft[]>({ required: true })

const ways = [
  { value: 1 as const, label: 'upwards' },
  { value: -1 as const, label: 'downwards' },
]
/** What raising it does to stability: the climb searches the other way round where it helps. */
const HELPS = { endangers: '', helps: ' (more of it is more stable)', neutral: ' (stability does not hang on it)' }
const roles = computed(() => [
  { value: 'guess', label: 'from name and unit' },
  ...registry.value.roles.map(({ role, raising }) => ({ value: role, label: `${role}${HELPS[raising]}` })),
])
const parts = computed(() => registry.value.parts.filter((part) => part !== 'room').map((part) => ({ value: part, label: part })))
const remove = (index: number): void => void knobs.value.splice(index, 1)
const { data: starters } = useStarters()
</script>

<template>
  <div v-for="(knob, index) in knobs" :key="index" class="knob">
    <TextField v-model="knob.name" label="Name" :most="80" :trouble="at(`knobs.${index}.name`)" />
    <template v-if="!changed">
      <TextField v-model="knob.key" label="Key" hint="core" :most="24" :trouble="at(`knobs.${index}.key`)" />
      <TextField v-model="knob.unit" label="Unit" :most="12" />
      <NumberField v-model="knob.stock" label="Stock" :unit="knob.unit" :trouble="at(`knobs.${index}.stock`)" />
    </template>
    <NumberField v-model="knob.step" label="Smallest step" :trouble="at(`knobs.${index}.step`)" />
    <NumberField v-model="knob.low" label="Lowest" :trouble="at(`knobs.${index}.low`)" />
    <NumberField v-model="knob.high" label="Highest" :trouble="at(`knobs.${index}.high`)" />
    <ChoiceField v-model="knob.away" label="Tuning direction" :options="ways" :trouble="at(`knobs.${index}.away`)" />
    <ChoiceField
      :model-value="knob.role ?? 'guess'"
      label="What it turns"
      :options="roles"
      :trouble="at(`knobs.${index}.role`)"
      class="role"
      @update:model-value="(role) => (knob.role = role === 'guess' ? undefined : (role as KnobDraft['role']))"
    />
    <ChoiceField v-model="knob.part" label="Of which part" :options="parts" :trouble="at(`knobs.${index}.part`)" />
    <AButton v-if="!single" type="text" class="remove" :aria-label="`Remove knob ${knob.name}`" @click="remove(index)"
      >Remove</AButton
    >
  </div>
  <p class="quiet most">A knob can have at most 2000 steps from its lowest to its highest value.</p>
  <div v-if="!single" class="add">
    <span class="quiet">Add</span>
    <AButton v-for="knob in starters?.knobs" :key="knob.key" size="small" @click="knobs.push(knobLike(knob))">{{
      knob.name
    }}</AButton>
    <AButton size="small" @click="knobs.push(emptyKnob())">Another knob</AButton>
  </div>
  <div v-if="at('knobs')" class="field-trouble" role="alert">{{ at('knobs') }}</div>
</template>

<style scoped>
.knob {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(118px, 1fr));
  gap: 8px;
  align-items: start;
  margin-bottom: 12px;
  padding-bottom: 12px;
  border-bottom: 1px solid var(--rule);
}
.role {
  grid-column: span 2;
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
</style>
