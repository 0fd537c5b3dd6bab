<!-- Further figures of a run: any quantity of any part, by whichever instrument read it. -->
<script setup lang="ts">
import { registry, unitOf } from '../../api/registry'
import { Button as AButton } from 'ant-design-vue'

import type { Instrument } from '../../api/instruments'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import { type MoreDraft, readers } from './runDraft'

const props = defineProps<{
  instruments: Instrument[]
  at: (where: string) => string | undefined
}>()
const figures = defineModel<MoreDraft[]>({ required: true })

const named = (words: readonly string[]) => words.map((word) => ({ value: word, label: word }))
function add(): void {
  figures.value.push({ quantity: 'power', part: 'whole machine', statistic: 'mean', by: 'wall', value: null })
}
function changed(figure: MoreDraft): void {
  const choices = readers(props.instruments, figure.quantity).map((one) => one.value)
  if (!choices.includes(figure.by)) figure.by = choices[0] ?? 'unknown'
}
</script>

<template>
  <div>
    <div v-for="(figure, index) in figures" :key="index" class="figure-line" data-test="more-figure">
      <ChoiceField
        :model-value="figure.quantity"
        label="Quantity"
        :options="named(registry.quantities.map((one) => one.quantity))"
        @update:model-value="
          (quantity) => {
            figure.quantity = quantity as MoreDraft['quantity']
            changed(figure)
          }
        "
      />
      <ChoiceField
        :model-value="figure.part"
        label="Of"
        :options="named(registry.parts)"
        @update:model-value="(part) => (figure.part = part as MoreDraft['part'])"
      />
      <ChoiceField
        :model-value="figure.statistic"
        label="Which value"
        :options="named(registry.statistics)"
        @update:model-value="(statistic) => (figure.statistic = statistic as MoreDraft['statistic'])"
      />
      <NumberField v-model="figure.value" label="Reading" :unit="unitOf(figure.quantity)" />
      <ChoiceField v-model="figure.by" label="Read by" :options="readers(instruments, figure.quantity)" />
      <AButton type="text" class="remove" @click="figures.splice(index, 1)">Remove</AButton>
    </div>
    <AButton size="small" @click="add">Add another figure</AButton>
  </div>
</template>

<style scoped>
.figure-line {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 8px;
  margin-bottom: 12px;
  padding: 8px;
  border-left: 3px solid var(--rule);
}
.remove {
  margin-top: 22px;
}
</style>
