<!-- One of the program's own terms, explained on pointing and on focus where it first appears. -->
<script setup lang="ts">
import { Tooltip as ATooltip } from 'ant-design-vue'
import { computed, useId } from 'vue'

import { terms } from './words/terms'

/** term: as in the list of terms; the slot holds it as it is written here */
const props = defineProps<{ term: string }>()
const id = useId()
const meaning = computed(() => terms.find(([term]) => term === props.term)?.[1] ?? '')
</script>

<template>
  <ATooltip :title="meaning" :mouse-enter-delay="0.3">
    <span class="term" tabindex="0" :aria-describedby="id"
      ><slot>{{ term }}</slot
      ><span :id="id" hidden>{{ meaning }}</span></span
    >
  </ATooltip>
</template>

<style scoped>
.term {
  text-decoration: underline dotted;
  text-underline-offset: 3px;
  cursor: help;
}
</style>
