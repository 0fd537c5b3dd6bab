<!-- An instrument: what it reads, how finely, what corrects it, and whether it is trusted. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { Button as AButton } from 'ant-design-vue'
import { computed, ref, watch } from 'vue'

import { type Instrument, type InstrumentIn, useKeepInstrument } from '../../api/instruments'
import { useProblems } from '../../composables/useProblems'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import TextField from '../../ui/TextField.vue'
import SideSheet from '../../ui/SideSheet.vue'

const props = defineProps<{ rigId: number; instrument?: Instrument; others: Instrument[] }>()
const open = defineModel<boolean>('open', { required: true })
const { mutateAsync, isPending } = useKeepInstrument()
const { problems, take, clear, at } = useProblems()

interface Draft extends Omit<InstrumentIn, 'resolution' | 'offset' | 'offset_sd' | 'factor' | 'factor_sd'> {
  resolution: number | null
  offset: number | null
  offset_sd: number | null
  factor: number | null
  factor_sd: number | null
  since: string
}
const blank = (): Draft => ({
  name: '',
  kind: 'own report',
  quantity: 'power',
  part: 'tuned part',
  place: '',
  resolution: null,
  offset: 0,
  offset_sd: 0,
  factor: 1,
  factor_sd: 0,
  trust: 'trusted',
  trust_since: null,
  trust_why: '',
  replaced_by_id: null,
  since: '',
})
const draft = ref(blank())
/** The instrument as it was when the form was opened. */
const seen = ref<Instrument>()
watch(open, (isOpen) => {
  if (!isOpen) return
  clear()
  const told = props.instrument
  seen.value = told
  draft.value = told
    ? {
        ...blank(),
        ...told,
        resolution: told.resolution ?? null,
        offset: told.offset ?? 0,
        offset_sd: told.offset_sd ?? 0,
        factor: told.factor ?? 1,
        factor_sd: told.factor_sd ?? 0,
        since: told.trust_since?.slice(0, 10) ?? '',
      }
    : blank()
})

const named = (words: readonly string[] | undefined) => (words ?? []).map((word) => ({ value: word, label: word }))
const unit = computed(() => registry.value.quantities.find((one) => one.quantity === draft.value.quantity)?.unit)
const rivals = computed(() => [
  { value: 0, label: 'none' },
  ...props.others
    .filter((one) => one.id !== props.instrument?.id && one.quantity === draft.value.quantity)
    .map((one) => ({ value: one.id, label: one.name })),
])

async function save(): Promise<void> {
  clear()
  const { since, ...fields } = draft.value
  try {
    await mutateAsync({
      rigId: props.rigId,
      seen: seen.value,
      body: {
        ...fields,
        offset: fields.offset ?? 0,
        offset_sd: fields.offset_sd ?? 0,
        factor: fields.factor ?? 0,
        factor_sd: fields.factor_sd ?? 0,
        trust_since: fields.trust !== 'trusted' && since ? new Date(since).toISOString() : null,
        replaced_by_id: fields.replaced_by_id || null,
      },
    })
    open.value = false
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <SideSheet v-model:open="open" :title="instrument ? instrument.name : 'A new instrument'" :width="480">
    <form class="form-grid" @submit.prevent="save">
      <TextField
        v-model="draft.name"
        label="Name"
        hint="clamp, meter at the wall"
        :most="80"
        :trouble="at('name')"
        class="wide"
      />
      <ChoiceField
        v-model="draft.kind"
        label="It is"
        :options="named(registry.instrument_kinds) as { value: Draft['kind']; label: string }[]"
      />
      <ChoiceField
        v-model="draft.quantity"
        label="It reads"
        :options="named(registry.quantities.map((one) => one.quantity)) as { value: Draft['quantity']; label: string }[]"
        :trouble="at('quantity')"
      />
      <ChoiceField
        v-model="draft.part"
        label="Of"
        :options="named(registry.parts) as { value: Draft['part']; label: string }[]"
      />
      <TextField v-model="draft.place" label="Where exactly" hint="both 8-pin cables" :most="160" />
      <NumberField v-model="draft.resolution" label="Smallest step it shows" :unit="unit" :trouble="at('resolution')" />
      <span></span>
      <NumberField v-model="draft.factor" label="Multiply its reading by" hint="1 changes nothing" :trouble="at('factor')" />
      <NumberField v-model="draft.factor_sd" label="Known to ± (standard deviation)" :trouble="at('factor_sd')" />
      <NumberField v-model="draft.offset" label="Then add" :unit="unit" :trouble="at('offset')" />
      <NumberField v-model="draft.offset_sd" label="Known to ± (standard deviation)" :unit="unit" :trouble="at('offset_sd')" />
      <ChoiceField
        v-model="draft.trust"
        label="Trust"
        :options="named(registry.trusts) as { value: NonNullable<Draft['trust']>; label: string }[]"
      />
      <template v-if="draft.trust !== 'trusted'">
        <label
          ><span class="field-name">Since (empty: always)</span><input v-model="draft.since" class="date" type="date"
        /></label>
        <TextField v-model="draft.trust_why" label="Why" :most="300" :trouble="at('trust_why')" class="wide" />
        <ChoiceField
          :model-value="draft.replaced_by_id ?? 0"
          label="Replaced by"
          :options="rivals"
          :trouble="at('replaced_by_id')"
          @update:model-value="(id) => (draft.replaced_by_id = id || null)"
        />
      </template>
      <ProblemList :problems="problems" title="Not saved:" class="wide" />
      <AButton type="primary" html-type="submit" :loading="isPending" class="wide save">Save</AButton>
    </form>
  </SideSheet>
</template>

<style scoped>
.save {
  justify-self: start;
}
.date {
  width: 100%;
  min-height: 32px;
  padding: 0 8px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
</style>
