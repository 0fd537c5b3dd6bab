<!-- Several choices out of a few. -->
<script setup lang="ts" generic="T extends string | number">
import { Select as ASelect } from 'ant-design-vue'
import { computed, useId } from 'vue'

const props = defineProps<{ label: string; options: (T | { value: T; label: string })[]; hint?: string; trouble?: string }>()
const chosen = defineModel<T[]>({ required: true })
const id = useId()
const choices = computed(() => props.options.map((one) => (typeof one === 'object' ? one : { value: one, label: String(one) })))
</script>

<template>
  <div>
    <label class="field-name" :for="id">{{ label }}</label>
    <ASelect
      :id="id"
      :value="chosen"
      mode="multiple"
      :options="choices"
      :placeholder="hint"
      option-filter-prop="label"
      style="width: 100%"
      @update:value="(values: unknown) => (chosen = values as T[])"
    />
    <div v-if="trouble" class="field-trouble" role="alert">{{ trouble }}</div>
  </div>
</template>
