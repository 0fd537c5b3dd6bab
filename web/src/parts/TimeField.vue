<!-- A time of day, as the reader's own system writes it. -->
<script setup lang="ts">
import { Input as AInput } from 'ant-design-vue'
import { useId } from 'vue'

defineProps<{ label: string }>()
const value = defineModel<string>({ required: true })
const id = useId()
</script>

<template>
  <div>
    <label class="field-name" :for="id">{{ label }}</label>
    <AInput :id="id" v-model:value="value" type="time" class="figure" />
  </div>
</template>
