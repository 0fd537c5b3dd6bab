<script setup lang="ts">
import { Input as AInput, Textarea as ATextarea } from 'ant-design-vue'
import { useId } from 'vue'

defineProps<{ label: string; hint?: string; trouble?: string; lines?: number; most?: number }>()
const value = defineModel<string>({ required: true })
const id = useId()
</script>

<template>
  <div>
    <label class="field-name" :for="id">{{ label }}</label>
    <ATextarea v-if="lines" :id="id" v-model:value="value" :rows="lines" :placeholder="hint" :maxlength="most" />
    <AInput
      v-else
      :id="id"
      v-model:value="value"
      :placeholder="hint"
      :maxlength="most"
      :status="trouble ? 'error' : ''"
      autocomplete="off"
    />
    <div v-if="trouble" class="field-trouble" role="alert">{{ trouble }}</div>
  </div>
</template>
