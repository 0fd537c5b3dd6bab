<!-- Which knobs are kept together: join two components into one, or part a knob from the rest. -->
<script setup lang="ts">
import { computed } from 'vue'

import { type Campaign, useChangeKnob } from '../../api/campaigns'
import type { KeepView } from '../../api/keep'
import { useProblems } from '../../composables/useProblems'
import ChoiceField from '../../ui/ChoiceField.vue'
import ProblemList from '../../ui/ProblemList.vue'

const props = defineProps<{ components: KeepView['components']; campaign: Campaign }>()
const change = useChangeKnob()
const { problems, take, clear } = useProblems()

const knobs = computed(() =>
  props.components.flatMap((row) => {
    const { key, knobs: own } = row.decision.brought.component
    return own.map((knob) => ({ key: knob.key, name: knob.name, group: knob.component ?? '', component: key }))
  }),
)
type KnobInGroup = (typeof knobs.value)[number]
const groupsFor = (knob: KnobInGroup): { value: string; label: string }[] => {
  const others = props.components
    .map((row) => ({ value: row.decision.brought.component.key, label: row.part.text }))
    .filter((one) => one.value !== knob.component && one.value !== knob.name)
  const own = knob.group && knob.group !== knob.name ? [{ value: knob.group, label: nameOf(knob.group) }] : []
  return [{ value: '', label: 'Its part' }, { value: knob.name, label: 'On its own' }, ...own, ...others]
}
const nameOf = (group: string): string =>
  props.components.find((row) => row.decision.brought.component.key === group)?.part.text ?? group

async function group(key: string, component: string): Promise<void> {
  clear()
  try {
    await change.mutateAsync({ id: props.campaign.id, key, body: { component } })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <details v-if="knobs.length > 1" data-test="groups">
    <summary>Group knobs</summary>
    <p class="quiet">Knobs in one group are kept, or reset to stock, together.</p>
    <div class="grid">
      <ChoiceField
        v-for="knob in knobs"
        :key="knob.key"
        :label="knob.name"
        :model-value="knob.group"
        :options="groupsFor(knob)"
        @update:model-value="(chosen) => group(knob.key, chosen ?? '')"
      />
    </div>
    <ProblemList :problems="problems" title="Not changed:" />
  </details>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: 8px 16px;
  margin-top: 8px;
}
</style>
