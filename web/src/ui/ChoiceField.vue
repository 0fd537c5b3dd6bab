<script setup lang="ts" generic="T extends string | number">
import { Select as ASelect } from 'ant-design-vue'
import { useId } from 'vue'

defineProps<{ label: string; options: { value: T; label: string }[]; trouble?: string; hint?: string }>()
const value = defineModel<T | undefined>({ required: true })
const id = useId()
</script>

<template>
  <div>
    <label class="field-name" :for="id">{{ label }}</label>
    <ASelect
      :id="id"
      :value="value"
      :options="options"
      :placeholder="hint"
      :status="trouble ? 'error' : ''"
      style="width: 100%"
      @update:value="(chosen: unknown) => (value = chosen as T)"
    />
    <div v-if="trouble" class="field-trouble" role="alert">{{ trouble }}</div>
  </div>
</template>
