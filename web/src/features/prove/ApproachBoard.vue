<!-- One approach's test suite: what is done, missing or failed, what its verdict says, and what it cannot tell. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { Button as AButton } from 'ant-design-vue'
import { computed } from 'vue'

import { type Campaign, testable } from '../../api/campaigns'
import type { Item, Approach } from '../../api/proof'
import { number } from '../../ui/words/format'
import ItemMark from './ItemMark.vue'

const props = defineProps<{ campaign: Campaign; approach: Approach; timed: boolean }>()
defineEmits<{ run: [item: Item]; add: [item: Item] }>()

const asks = computed(() => registry.value.approaches.find((one) => one.approach === props.approach.proof.approach)?.asks)
const proof = computed(() => props.approach.proof)
const nameOf = (item: Item): string => testable(props.campaign).find((load) => load.id === item.load_id)?.name ?? ''
const dropped = computed(() => new Set(props.approach.fitted.dropped))
const amount = (item: Item): string =>
  item.unit === ''
    ? ''
    : item.unit === 'days'
      ? `on ${item.done} of ${item.needed} days`
      : `${number(item.done, 0)} min done, ${number(item.needed, 0)} needed`
/** What the button of an item does. */
const wordsOf = (item: Item): string => {
  const how = item.run_minutes ? `, ${number(item.run_minutes, 0)} min` : item.runs > 1 ? `, ${item.runs} times` : ''
  return `${props.campaign.simulator ? 'Run' : 'Log'} ${nameOf(item)}${how}`
}
</script>

<template>
  <section class="sheet approach" :aria-label="proof.approach" :data-test="`approach-${proof.approach}`">
    <header>
      <h2>{{ proof.approach }}</h2>
      <span :class="['state', { warning: proof.state === 'failed', holds: proof.state === 'proved' }]">{{ proof.state }}</span>
    </header>
    <p class="quiet">{{ asks }}</p>
    <ul>
      <li v-for="item in proof.items" :key="item.key" :class="{ left: timed && dropped.has(item.key) }">
        <ItemMark :state="item.state" />
        <div class="what">
          {{ item.title.text }} <span class="figure amount">{{ amount(item) }}</span>
          <div class="quiet small">
            {{ item.why.text }}<template v-if="item.state === 'no workload'">; no workload does this yet</template>
            <template v-else-if="timed && dropped.has(item.key)">; left out, it does not fit your time</template>
          </div>
        </div>
        <AButton
          v-if="item.load_id && (item.state === 'missing' || item.state === 'under way')"
          size="small"
          :aria-label="`${wordsOf(item)} for ${item.title.text}`"
          @click="$emit('run', item)"
        >
          {{ wordsOf(item) }}
        </AButton>
        <AButton
          v-else-if="item.wants"
          size="small"
          :aria-label="`Add a workload for it: ${item.title.text}`"
          @click="$emit('add', item)"
          >Add a workload for it</AButton
        >
      </li>
    </ul>
    <p class="verdict">{{ proof.verdict.text }}</p>
    <p class="quiet small">{{ proof.limits }}</p>
    <p v-if="approach.fitted.kept.length && proof.state !== 'failed'" class="quiet small">
      Still about <span class="figure estimate">{{ number(approach.fitted.minutes.likely, 0) }} min</span>
      <template v-if="approach.fitted.minutes.high > approach.fitted.minutes.low"
        >({{ number(approach.fitted.minutes.low, 0) }} to {{ number(approach.fitted.minutes.high, 0) }})</template
      >, cooling down and restarts counted<template v-if="approach.fitted.dropped.length"
        >; {{ approach.fitted.dropped.length }} left out</template
      >.
    </p>
  </section>
</template>

<style scoped>
.approach {
  display: grid;
  gap: 8px;
  align-content: start;
  padding: 12px 16px;
}
header {
  display: flex;
  gap: 12px;
  align-items: baseline;
  justify-content: space-between;
}
h2::first-letter {
  text-transform: uppercase;
}
.state {
  font-weight: 700;
}
.state.holds {
  color: var(--petrol);
}
ul {
  display: grid;
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: start;
}
li.left .what {
  color: var(--quiet);
}
li :deep(.ant-btn) {
  height: auto;
  max-width: 260px;
  overflow-wrap: anywhere;
  white-space: normal;
}
.amount {
  margin-left: 6px;
}
.verdict {
  padding-top: 8px;
  border-top: 1px solid var(--rule);
}
</style>
