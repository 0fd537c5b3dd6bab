<!-- What a change of watts brings in speed, with its interval; a dash where it is not known. -->
<script setup lang="ts">
import type { Interval } from '../../api/lab'
import { gain, gainRange } from '../../ui/words/format'

defineProps<{ of: Interval | null | undefined }>()
</script>

<template>
  <span v-if="of" class="figure estimate"
    >{{ gain(of.value) }} <span class="quiet">{{ gainRange(of.low, of.high) }}</span></span
  >
  <template v-else>–</template>
</template>

<style scoped>
.quiet {
  display: block;
}
</style>
