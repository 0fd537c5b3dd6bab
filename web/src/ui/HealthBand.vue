<!-- On every page: that nothing can be stored now, or that the disk is nearly full. -->
<script setup lang="ts">
import { computed } from 'vue'

import { useHealth } from '../api/copies'

const { data } = useHealth()
const words = computed(() => (data.value && data.value.status !== 'ready' ? data.value.words : ''))
</script>

<template>
  <div v-if="words" class="page" role="alert" data-test="health">
    <p :class="data?.writable ? 'caution' : 'stop'">
      <strong>{{ data?.writable ? 'Little room left.' : 'Nothing can be written now.' }}</strong> {{ words }}
      {{ data?.writable ? 'Make room before the next long run.' : 'Readings that come in wait at the bench and are sent again.' }}
    </p>
  </div>
</template>

<style scoped>
.page {
  padding-bottom: 0;
}
p {
  padding: 8px 12px;
  border-left: 3px solid currentcolor;
}
.stop {
  color: var(--orange);
}
</style>
