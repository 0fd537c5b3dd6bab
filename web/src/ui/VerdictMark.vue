<!-- A verdict as mark and word: distinguished by shape. -->
<script setup lang="ts">
import type { Verdict } from '../api/compare'

defineProps<{ verdict: Verdict | null | undefined }>()
</script>

<template>
  <span v-if="verdict" data-test="verdict" :class="['verdict', verdict.word]" :title="verdict.reason.text">
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
      <path v-if="verdict.word === 'gain'" d="M1 12 13 12 13 2Z" class="solid" />
      <path v-else-if="verdict.word === 'loss'" d="M1 2 13 12 1 12Z" class="solid" />
      <path v-else-if="verdict.word === 'tie'" d="M1 5h12M1 9h12" class="line" />
      <path v-else d="M1 7h3M6 7h2M10 7h3" class="line" />
    </svg>
    {{ verdict.word
    }}<template v-if="verdict.more_runs"
      >{{ ' ' }}<span class="quiet more">{{ verdict.more_runs }} more each</span></template
    >
  </span>
</template>

<style scoped>
.verdict {
  white-space: nowrap;
}
svg {
  margin-right: 2px;
  vertical-align: -2px;
}
.gain {
  color: var(--moss);
}
.loss {
  color: var(--plum);
}
.too {
  color: var(--ochre);
}
.solid {
  fill: currentColor;
}
.line {
  fill: none;
  stroke: currentColor;
  stroke-width: 2;
}
.more {
  font-size: 12px;
}
</style>
