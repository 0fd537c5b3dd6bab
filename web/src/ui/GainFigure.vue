<!-- A gain with its interval: sign, figure and colour together. In italics, since it is an estimate. -->
<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../api/client'
import type { Comparison } from '../api/ladder'
import { gain as gainWords, gainRange } from './words/format'

type Drawn = Schemas['Drawn']
/** drawn: the gain once it is counted that it was picked from many; then that is what is told, and of how many. */
const props = defineProps<{ gain: Comparison | null | undefined; drawn?: Drawn | null; stacked?: boolean }>()
const low = computed(() => props.drawn?.low ?? props.gain?.low)
const high = computed(() => props.drawn?.high ?? props.gain?.high)
const side = computed(() => {
  if (low.value == null || high.value == null) return ''
  return low.value > 1 ? 'gain' : high.value < 1 ? 'loss' : ''
})
</script>

<template>
  <span v-if="gain" :class="['figure', 'estimate', { stacked }]" data-test="gain">
    <strong :class="side">{{ gainWords(drawn?.ratio ?? gain.ratio) }}</strong>
    <span class="quiet range">
      {{ low != null && high != null ? gainRange(low, high) : 'one run each: noise unknown' }}
    </span>
    <span v-if="drawn" class="quiet range" :title="`As measured ${gainWords(gain.ratio)}; the best of many had luck too.`">
      best of {{ drawn.of }}, with luck taken out
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
