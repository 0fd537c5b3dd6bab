<!-- A ratio with its interval on an axis shared by all settings; stock is the dashed line. -->
<script setup lang="ts">
import { computed } from 'vue'

import type { Comparison } from '../api/ladder'
import { gain as gainWords, gainRange } from '../ui/words/format'

const props = defineProps<{ gain: Comparison | null | undefined; low: number; high: number }>()

const WIDTH = 240
const at = (ratio: number): number => ((ratio - props.low) / (props.high - props.low)) * WIDTH
const label = computed(() => {
  if (!props.gain) return 'no gain known'
  const { ratio, low, high } = props.gain
  const range = low != null && high != null ? `, ${gainRange(low, high)}` : ''
  return gainWords(ratio) + range
})
const side = computed(() => {
  if (!props.gain || props.gain.low == null || props.gain.high == null) return 'open'
  return props.gain.low > 1 ? 'gain' : props.gain.high < 1 ? 'loss' : 'open'
})
</script>

<template>
  <svg class="whisker" :viewBox="`0 0 ${WIDTH} 24`" preserveAspectRatio="none" role="img" :aria-label="label">
    <line class="stock" :x1="at(1)" :x2="at(1)" y1="0" y2="24" />
    <g v-if="gain" :class="side">
      <line v-if="gain.low != null && gain.high != null" class="bar" :x1="at(gain.low)" :x2="at(gain.high)" y1="12" y2="12" />
      <line v-if="gain.low != null" class="end" :x1="at(gain.low)" :x2="at(gain.low)" y1="7" y2="17" />
      <line v-if="gain.high != null" class="end" :x1="at(gain.high)" :x2="at(gain.high)" y1="7" y2="17" />
      <line class="mean" :x1="at(gain.ratio)" :x2="at(gain.ratio)" y1="5" y2="19" />
    </g>
  </svg>
</template>

<style scoped>
.whisker {
  display: block;
  width: 100%;
  height: 24px;
  overflow: visible;
}
line {
  stroke: currentColor;
  vector-effect: non-scaling-stroke;
}
.stock {
  stroke: var(--quiet);
  stroke-dasharray: 3 3;
}
.bar,
.end {
  stroke-width: 1.5;
}
.mean {
  stroke-width: 4;
}
.open {
  color: var(--quiet);
}
</style>
