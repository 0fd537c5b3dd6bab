<!-- An estimate with half the width of its interval: in italics, as every estimate. -->
<script setup lang="ts">
import type { Interval } from '../api/lab'
import { number } from './words/format'

defineProps<{ of: Interval; unit: string; decimals?: number }>()
</script>

<template>
  <span class="figure estimate"
    >{{ number(of.value, decimals ?? 1) }} ± {{ number((of.high - of.low) / 2, decimals ?? 1) }}{{ unit ? ` ${unit}` : '' }}</span
  >
</template>
