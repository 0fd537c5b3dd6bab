<!-- A new setting: one control a knob, moving in the knob's own steps, starting from the setting below. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, reactive, ref } from 'vue'

import type { Knob } from '../../api/campaigns'
import { type Setting, useAddSetting } from '../../api/settings'
import { knobValue } from '../../ui/words/format'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useAgreed } from '../../composables/useAgreed'
import { useProblems } from '../../composables/useProblems'
import TextField from '../../ui/TextField.vue'
import { useFollowing } from '../../composables/useFollowing'

const props = defineProps<{ campaignId: number; knobs: Knob[]; from: Record<string, number> }>()
const emit = defineEmits<{ added: [setting: Setting] }>()
const { mutateAsync, isPending } = useAddSetting()
const { problems, take, clear, at } = useProblems()
const agreed = useAgreed(() => props.campaignId)

const values = reactive<Record<string, number | null>>({})
const note = ref('')
const startAgain = useFollowing(
  () => props.from,
  () => [values, note.value],
  (from) => Object.assign(values, from),
)

/** One step on the knob's grid; rounding only takes out what binary fractions add. */
function move(knob: Knob, steps: number): void {
  const next = Number(((values[knob.key] ?? knob.stock) + steps * knob.step).toFixed(6))
  if (next >= knob.low && next <= knob.high) values[knob.key] = next
}
const turned = computed(() => props.knobs.filter((knob) => values[knob.key] !== props.from[knob.key]))

async function add(): Promise<void> {
  clear()
  const missing = props.knobs.filter((knob) => values[knob.key] === null)
  if (missing.length) {
    problems.value = missing.map((knob) => ({
      where: `values.${knob.key}`,
      what: 'There is no number here.',
      todo: 'Type a value.',
    }))
    return
  }
  const away = props.knobs.filter((knob) => values[knob.key] !== knob.stock).map((knob) => knob.key)
  try {
    if (!(await agreed(away))) return
    const setting = await mutateAsync({
      campaignId: props.campaignId,
      body: { values: values as Record<string, number>, note: note.value },
    })
    note.value = ''
    startAgain()
    emit('added', setting)
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <form class="setting-form" @submit.prevent="add">
    <div v-for="knob in knobs" :key="knob.key" class="knob">
      <NumberField
        v-model="values[knob.key]!"
        :label="knob.name"
        :unit="knob.unit"
        :trouble="at(`values.${knob.key}`)"
        class="value"
      />
      <AButton :aria-label="`${knob.name} one step down`" @click="move(knob, -1)">−{{ knob.step }}</AButton>
      <AButton :aria-label="`${knob.name} one step up`" @click="move(knob, 1)">+{{ knob.step }}</AButton>
      <span class="quiet range"
        >{{ knobValue(knob.low, knob.stock) }} to {{ knobValue(knob.high, knob.stock) }}, stock
        {{ knobValue(knob.stock, knob.stock) }}</span
      >
    </div>
    <TextField v-model="note" label="Note" :most="2000" />
    <p v-if="turned.length > 1" class="caution">
      {{ turned.length }} knobs turned at once: if it fails or gains, nothing will tell which one did it.
    </p>
    <ProblemList :problems="problems" title="Not added:" />
    <AButton type="primary" html-type="submit" :loading="isPending" :disabled="turned.length === 0">Add the setting</AButton>
  </form>
</template>

<style scoped>
.setting-form {
  display: grid;
  gap: 12px;
}
.knob {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 0 8px;
  align-items: start;
}
.knob .ant-btn {
  min-width: 56px;
  margin-top: 22px;
}
.range {
  grid-column: 1 / -1;
  font-size: 12px;
}
</style>
