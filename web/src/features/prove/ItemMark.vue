<!-- How far an item of a test suite has come, distinguished by shape: a bar that fills, a gap, a break. -->
<script setup lang="ts">
import type { Item } from '../../api/proof'

defineProps<{ state: Item['state'] }>()
</script>

<template>
  <svg
    :class="['item', { failed: state === 'failed', none: state === 'missing' || state === 'no workload' }]"
    width="16"
    height="20"
    viewBox="0 0 16 20"
    role="img"
    :aria-label="state"
  >
    <title>{{ state }}</title>
    <path v-if="state === 'done'" d="M2 10h12" stroke-width="5" />
    <g v-else-if="state === 'under way'">
      <path d="M2 10h6" stroke-width="5" />
      <path d="M8 10h6" stroke-width="1.5" />
    </g>
    <path v-else-if="state === 'missing'" d="M2 10h12" stroke-width="1.5" />
    <path v-else-if="state === 'no workload'" d="M2 10h12" stroke-width="1.5" stroke-dasharray="2 2.5" />
    <path v-else d="M2 10h4l2-6 2 12 1-6h3" stroke-width="1.8" />
  </svg>
</template>

<style scoped>
.item {
  color: var(--petrol);
  fill: none;
  stroke: currentColor;
}
.item.failed {
  color: var(--orange);
}
.item.none {
  color: var(--quiet);
}
</style>
