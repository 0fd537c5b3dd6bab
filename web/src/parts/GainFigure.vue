<!-- A gain with its interval: sign, figure and colour together. In italics, since it is an estimate. -->
<script setup lang="ts">
import { computed } from 'vue'

import type { Comparison } from '../api/ladder'
import { gain as gainWords, gainRange } from '../words/format'

const props = defineProps<{ gain: Comparison | null | undefined; stacked?: boolean }>()
const side = computed(() => {
  if (!props.gain || props.gain.low == null || props.gain.high == null) return ''
  return props.gain.low > 1 ? 'gain' : props.gain.high < 1 ? 'loss' : ''
})
</script>

<template>
  <span v-if="gain" :class="['figure', 'estimate', { stacked }]" data-test="gain">
    <strong :class="side">{{ gainWords(gain.ratio) }}</strong>
    <span class="quiet range">
      {{ gain.low != null && gain.high != null ? gainRange(gain.low, gain.high) : 'one run each: noise unknown' }}
    </span>
  </span>
</template>

<style scoped>
.range {
  margin-left: 8px;
}
.stacked .range {
  display: block;
  margin-left: 0;
  font-size: 12px;
}
</style>
