<!-- A stage's state: a square that fills from the bottom as work is done. -->
<script setup lang="ts">
import type { Stage } from '../api/campaigns'

defineProps<{ state: Stage['state'] }>()
</script>

<template>
  <svg :class="['state', state.replace(' ', '-')]" width="14" height="14" viewBox="0 0 14 14" role="img" :aria-label="state">
    <title>{{ state }}</title>
    <rect x="1" y="1" width="12" height="12" class="edge" />
    <rect v-if="state === 'done'" x="1" y="1" width="12" height="12" class="fill" />
    <rect v-else-if="state === 'under way'" x="1" y="7" width="12" height="6" class="fill" />
    <path v-else-if="state === 'stale'" d="M1 9 9 1M5 13 13 5M1 13 13 1" class="hatch" />
  </svg>
</template>

<style scoped>
.state {
  flex: none;
  color: var(--petrol);
}
.to-do {
  color: var(--quiet);
}
.stale {
  color: var(--ochre);
}
.edge {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.5;
}
.fill {
  fill: currentColor;
}
.hatch {
  stroke: currentColor;
  stroke-width: 1.5;
}
</style>
