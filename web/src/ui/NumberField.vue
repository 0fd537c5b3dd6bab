<!-- A number with its unit. Takes a decimal point or a comma. What is no number is said at once, and comes out as NaN: nothing that
     holds one is sent (see api/client.ts), so that a field is never lost on saving. -->
<script setup lang="ts">
import { Input as AInput } from 'ant-design-vue'
import { computed, ref, useId, watch } from 'vue'

import { hasTwoReadings, readNumber } from './words/readNumber'

const props = defineProps<{ label: string; unit?: string; hint?: string; trouble?: string; width?: string }>()
const value = defineModel<number | null>({ required: true })

const id = useId()
const text = ref(value.value === null || Number.isNaN(value.value) ? '' : String(value.value))
const unread = ref(false)

watch(value, (now) => {
  // only what came from outside replaces the text; typing "1," must not be rewritten to "1"
  if (readNumber(text.value) === now || (unread.value && Number.isNaN(now))) return
  text.value = now === null ? '' : String(now)
  unread.value = false
})

function read(typed: string): void {
  text.value = typed
  const found = readNumber(typed)
  unread.value = found === undefined
  value.value = found === undefined ? NaN : found
}

const trouble = computed(() => {
  if (!unread.value) return props.trouble
  const [thousands, decimals] = [text.value.replace(',', ''), text.value.replace(',', '.')].map((one) => one.trim())
  return hasTwoReadings(text.value) ? `Type ${thousands} or ${decimals}.` : 'This is not a number.'
})
</script>

<template>
  <div class="number-field" :style="{ width }">
    <label class="field-name" :for="id">{{ label }}</label>
    <AInput
      :id="id"
      :value="text"
      :suffix="unit"
      :placeholder="hint"
      :status="trouble ? 'error' : ''"
      :aria-invalid="!!trouble"
      inputmode="decimal"
      autocomplete="off"
      class="figure"
      @update:value="read"
    />
    <div v-if="trouble" class="field-trouble" role="alert">{{ trouble }}</div>
  </div>
</template>
