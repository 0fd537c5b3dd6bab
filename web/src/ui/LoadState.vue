<!-- Loading, and what to do when it fails. The content is in the slot once it is there. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed } from 'vue'

import { problemsOf } from '../api/client'
import ProblemList from './ProblemList.vue'

const props = defineProps<{ pending: boolean; error: unknown; what: string }>()
defineEmits<{ again: [] }>()
const problems = computed(() => (props.error ? problemsOf(props.error) : []))
</script>

<template>
  <div v-if="error" class="state">
    <ProblemList :problems="problems" :title="`${what} could not be read.`" />
    <AButton class="again" @click="$emit('again')">Try again</AButton>
  </div>
  <p v-else-if="pending" class="state quiet" role="status">Reading {{ what.toLowerCase() }} …</p>
  <slot v-else />
</template>

<style scoped>
.state {
  padding: 24px 0;
}
.again {
  margin-top: 16px;
}
</style>
