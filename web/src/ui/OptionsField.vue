<!-- Named options of a workload: one set of them is one variant, compared only with itself. -->
<script setup lang="ts">
import { Button as AButton, Input as AInput } from 'ant-design-vue'

import type { OptionDraft } from '../features/campaigns/drafts'

defineProps<{ trouble?: string }>()
const options = defineModel<OptionDraft[]>({ required: true })
</script>

<template>
  <div class="options">
    <span class="field-name">Options</span>
    <div v-for="(option, index) in options" :key="index" class="option">
      <AInput
        v-model:value="option.name"
        size="small"
        :maxlength="60"
        :aria-label="`Which option, line ${index + 1}`"
        placeholder="name"
      />
      <AInput
        v-model:value="option.value"
        size="small"
        :maxlength="120"
        :aria-label="option.name ? `Option ${option.name}` : `Its value, line ${index + 1}`"
        placeholder="none"
      />
    </div>
    <AButton size="small" type="text" @click="options.push({ name: '', value: '' })">Add an option</AButton>
    <div v-if="trouble" class="field-trouble" role="alert">{{ trouble }}</div>
  </div>
</template>

<style scoped>
.option {
  display: grid;
  grid-template-columns: 2fr 3fr;
  gap: 4px;
  margin-bottom: 4px;
}
</style>
