<!-- Mistakes that Trelvo noticed in this comparison, each kind once, with the way to what shows it. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import type { Trap } from '../../api/compare'

const props = defineProps<{ traps: Trap[]; campaignId: number }>()

const kinds = computed(() => {
  const found = new Map<string, Trap[]>()
  for (const trap of props.traps) found.set(trap.code, [...(found.get(trap.code) ?? []), trap])
  return [...found.values()]
})

/** Brings the row that a trap speaks of into view. */
function show(trap: Trap): void {
  const row = document.querySelector(`[data-row="${CSS.escape(trap.where)}"]`) ?? document.querySelector('.versus')
  row?.scrollIntoView({ block: 'center' })
  row?.animate?.([{ outline: '2px solid var(--orange)' }, { outline: '2px solid transparent' }], 2500)
}
</script>

<template>
  <section>
    <h2>Traps</h2>
    <p v-if="kinds.length === 0" class="quiet">None noticed in this comparison.</p>
    <details v-for="found in kinds" :key="found[0]?.code" class="trap" data-test="trap">
      <summary>
        <strong class="caution">{{ found[0]?.name }}</strong>{{ ' '
        }}<span class="quiet">{{ found.length > 1 ? `${found.length} places` : found[0]?.where }}</span>
      </summary>
      <ul>
        <li v-for="trap in found" :key="trap.where">
          <p>
            <strong>{{ trap.where }}.</strong> {{ trap.evidence }}
          </p>
          <p class="quiet">The usual claim: {{ trap.claims }}</p>
          <p>{{ trap.truth }}</p>
          <RouterLink v-if="trap.run_ids?.length" :to="{ name: 'run', params: { id: trap.run_ids[0] } }"
            >Show me the run</RouterLink
          >
          <AButton v-else size="small" type="link" class="show" @click="show(trap)">Show me</AButton>
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
.trap {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
summary {
  cursor: pointer;
}
ul {
  margin: 4px 0 4px 16px;
  padding: 0;
  list-style: none;
}
li + li {
  margin-top: 8px;
}
.show {
  padding: 0;
}
</style>
