<!-- A time of day, or a moment with its day, as the reader's own system writes it. -->
<script setup lang="ts">
import { Input as AInput } from 'ant-design-vue'
import { useId } from 'vue'

/** dated: with its day */
defineProps<{ label: string; dated?: boolean; trouble?: string }>()
const value = defineModel<string>({ required: true })
const id = useId()
</script>

<template>
  <div>
    <label class="field-name" :for="id">{{ label }}</label>
    <AInput :id="id" v-model:value="value" :type="dated ? 'datetime-local' : 'time'" class="figure" />
    <div v-if="trouble" class="field-trouble" role="alert">{{ trouble }}</div>
  </div>
</template>
