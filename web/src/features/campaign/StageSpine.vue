<!-- The six stages of a campaign on one ruler, each with its state; what it found or waits for shows on pointing. -->
<script setup lang="ts">
import { RouterLink } from 'vue-router'

import type { Stage } from '../../api/campaigns'
import KeyCap from '../../ui/KeyCap.vue'
import StateMark from '../../ui/StateMark.vue'
import { stageKeys } from './stageRoutes'

/** current: the stage that the next step belongs to */
defineProps<{ stages: Stage[]; campaignId: number; current: Stage['name'] }>()

/** What is next is as a rule under way, which its mark shows: the longest stage's name leaves no room to say both. */
const next = (state: Stage['state']) => (state === 'under way' ? 'next' : `${state}, next`)
</script>

<template>
  <nav class="spine" aria-label="Stages">
    <component
      :is="stageKeys[stage.name] ? RouterLink : 'div'"
      v-for="stage in stages"
      :key="stage.name"
      :class="['station', { current: stage.name === current }]"
      :title="stage.note.text"
      :to="stageKeys[stage.name] ? { name: stage.name, params: { id: campaignId } } : undefined"
    >
      <span class="name">
        <StateMark :state="stage.state" /> {{ stage.name }}
        <KeyCap v-if="stageKeys[stage.name]">{{ stageKeys[stage.name] }}</KeyCap>
      </span>
      <span class="quiet note">{{ stage.name === current ? next(stage.state) : stage.state }}</span>
    </component>
  </nav>
</template>

<style scoped>
.spine {
  display: grid;
  grid-template-columns: repeat(6, minmax(0, 1fr));
  gap: 8px;
}
.station {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  align-items: baseline;
  padding: 4px 0 2px;
  border-top: 2px solid var(--rule);
  color: var(--ink);
  text-decoration: none;
}
.station.router-link-active {
  border-top-color: var(--petrol);
}
.station.router-link-active .name {
  font-weight: 700;
}
a.station:hover .name {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.name {
  display: flex;
  align-items: center;
  gap: 6px;
}
.note {
  font-size: 12px;
}
.current .note {
  color: var(--petrol);
}
.station:not(a) .name {
  color: var(--quiet);
}
@media (max-width: 1000px) {
  .station {
    display: grid;
    gap: 0;
  }
  .name :deep(kbd) {
    display: none;
  }
}
@media (max-width: 620px) {
  .spine {
    grid-template-columns: repeat(3, minmax(0, 1fr));
  }
}
</style>
