<!-- How a run ended, as a mark: distinguished by shape alone; colour only repeats it. -->
<script setup lang="ts">
import { outcomeFacts } from '../api/registry'
import { computed } from 'vue'

import type { Outcome } from '../api/runs'

const props = defineProps<{ outcome: Outcome; setAside?: boolean; running?: boolean; size?: number; bare?: boolean }>()
const words = computed(() => outcomeFacts(props.outcome))
const label = computed(() =>
  props.running ? 'Running, or waiting for an answer' : props.setAside ? `${words.value.short}, set aside` : words.value.short,
)
</script>

<template>
  <svg
    :width="size ?? 16"
    :height="size ?? 16"
    viewBox="0 0 16 16"
    :class="['mark', { aside: setAside, failed: words.failed }]"
    :role="bare ? undefined : 'img'"
    :aria-label="bare ? undefined : label"
    :aria-hidden="bare"
  >
    <title v-if="!bare">{{ label }}</title>
    <!-- running: an empty lozenge with a point in it -->
    <g v-if="running" class="line">
      <path d="M8 1.5 14.5 8 8 14.5 1.5 8Z" stroke-dasharray="3 2" />
      <circle cx="8" cy="8" r="2" fill="currentColor" />
    </g>
    <!-- completed: a solid lozenge -->
    <path v-else-if="outcome === 'completed'" d="M8 1.5 14.5 8 8 14.5 1.5 8Z" fill="currentColor" />
    <!-- artifacts: an empty lozenge with a wave in it -->
    <g v-else-if="outcome === 'artifacts'" class="line">
      <path d="M8 1.5 14.5 8 8 14.5 1.5 8Z" />
      <path d="M4.6 8.6C5.8 6.4 7 6.6 8 8s2.2 1.6 3.4-.6" />
    </g>
    <!-- program crash: a lozenge with its right half gone -->
    <g v-else-if="outcome === 'program crash'" class="line">
      <path d="M8 1.5 1.5 8 8 14.5Z" fill="currentColor" />
      <path d="M11 5.5v5" />
    </g>
    <!-- system crash: a lozenge fallen apart, above a floor -->
    <g v-else-if="outcome === 'system crash'" class="line">
      <path d="M8 10 2.5 4M8 10l5.5-6" />
      <path d="M1.5 13.5h13" />
    </g>
    <!-- no start: only the floor and a gap above it -->
    <g v-else-if="outcome === 'no start'" class="line">
      <path d="M1.5 13.5h13" />
      <path d="M5.5 4.5 10.5 9.5M10.5 4.5 5.5 9.5" />
    </g>
    <!-- safety limit: a run that meets a post -->
    <g v-else-if="outcome === 'safety limit'" class="line">
      <path d="M1.5 8h8" />
      <path d="M12 2v12" stroke-width="2.6" />
    </g>
    <!-- stopped by hand: a run that ends in an open box -->
    <g v-else-if="outcome === 'stopped by hand'" class="line">
      <path d="M1.5 8h6" />
      <path d="M8 4.5h6v7H8Z" />
    </g>
    <!-- connection lost: a line that thins out -->
    <g v-else class="line">
      <path d="M1.5 8h4.5M8.2 8h2.2M12.8 8h1" />
      <path d="M1.5 5v6" />
    </g>
    <path v-if="setAside" class="line" d="M2 14 14 2" />
  </svg>
</template>

<style scoped>
.mark {
  flex: none;
  color: var(--petrol);
  vertical-align: -3px;
}
.mark.failed {
  color: var(--orange);
}
.mark.aside {
  color: var(--quiet);
  opacity: 0.75;
}
.line {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.6;
}
.line [fill='currentColor'] {
  fill: currentColor;
}
</style>
