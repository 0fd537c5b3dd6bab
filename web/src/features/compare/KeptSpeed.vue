<!-- A goal's condition on speed in place of a verdict on a gain: at least so much of stock's speed, and how sure that is. -->
<script setup lang="ts">
import type { Versus } from '../../api/compare'

defineProps<{ condition: NonNullable<Versus['candidates'][number]['kept_speed']> }>()
</script>

<template>
  <span class="small" data-test="kept-speed"
    >{{ condition.name.text }}: {{ condition.state }}. <span class="quiet">{{ condition.says.text }}</span></span
  >
</template>
