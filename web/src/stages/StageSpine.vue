<!-- The six stages of a campaign on one ruler, each with its state; what it found or waits for shows on pointing. -->
<script setup lang="ts">
import { RouterLink } from 'vue-router'

import type { Stage } from '../api/campaigns'
import KeyCap from '../parts/KeyCap.vue'
import StateMark from '../parts/StateMark.vue'
import { stageKeys } from './stageRoutes'

defineProps<{ stages: Stage[]; campaignId: number }>()
</script>

<template>
  <nav class="spine" aria-label="Stages">
    <component
      :is="stageKeys[stage.name] ? RouterLink : 'div'"
      v-for="stage in stages"
      :key="stage.name"
      class="station"
      :title="stage.note"
      :to="stageKeys[stage.name] ? { name: stage.name, params: { id: campaignId } } : undefined"
    >
      <span class="name">
        <StateMark :state="stage.state" /> {{ stage.name }}
        <KeyCap v-if="stageKeys[stage.name]">{{ stageKeys[stage.name] }}</KeyCap>
      </span>
      <span class="quiet note">{{ stageKeys[stage.name] ? stage.state : 'comes later' }}</span>
    </component>
  </nav>
</template>

<style scoped>
.spine {
  display: grid;
  grid-template-columns: repeat(6, minmax(0, 1fr));
  border-top: 2px solid var(--ink);
}
.station {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  align-items: baseline;
  padding: 10px 8px 6px;
  border-left: 1px solid var(--rule);
  color: var(--ink);
  text-decoration: none;
}
.station:first-child {
  border-left-color: transparent;
  padding-left: 0;
}
.station.router-link-active {
  box-shadow: inset 0 4px 0 var(--petrol);
}
a.station:hover .name {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.name {
  display: flex;
  align-items: center;
  gap: 6px;
  font-weight: 700;
}
.note {
  font-size: 12px;
}
.station:not(a) .name {
  color: var(--quiet);
  font-weight: 400;
}
@media (max-width: 1000px) {
  .spine {
    grid-template-columns: repeat(3, minmax(0, 1fr));
  }
  .station:nth-child(4) {
    border-left-color: transparent;
    padding-left: 0;
  }
}
</style>
