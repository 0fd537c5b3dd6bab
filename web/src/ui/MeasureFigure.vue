<!-- A setting in the goal's own measure, with its interval; in italics, since it is an estimate. -->
<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../api/client'
import type { GoalMeasure } from '../api/goal'
import { gain } from './words/format'
import { measureRange, measureWords } from './words/measure'

/** drawn: the measure once it is counted that it was picked from many; a ratio above 1 is better */
const props = defineProps<{ measure: GoalMeasure; drawn?: Schemas['Drawn'] | null; stacked?: boolean }>()
const side = computed(() => ({ better: 'gain', worse: 'loss', '': '' })[props.measure.side ?? ''])
const range = computed(() => measureRange(props.measure))
</script>

<template>
  <span :class="['figure', { estimate: measure.unit !== 'of', stacked }]" data-test="measure">
    <strong :class="side">{{ measureWords(measure) }}</strong>
    <span v-if="range" class="quiet range">{{ range }}</span>
    <span
      v-if="drawn && measure.unit === 'ratio' && measure.watts == null"
      class="quiet range"
      :title="`The best of ${drawn.of} had luck too: counted with that, ${gain(drawn.ratio)}.`"
    >
      best of {{ drawn.of }}; with luck taken out {{ gain(drawn.ratio) }}
    </span>
  </span>
</template>

<style scoped>
.range {
  margin-left: 8px;
}
.stacked .range {
  white-space: normal;
  display: block;
  margin-left: 0;
  font-size: 12px;
}
</style>
