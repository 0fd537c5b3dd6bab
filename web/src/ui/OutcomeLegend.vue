<script setup lang="ts">
import { outcomes } from '../api/registry'
import OutcomeMark from './OutcomeMark.vue'
</script>

<template>
  <ul class="legend">
    <li v-for="entry in outcomes" :key="entry.outcome">
      <OutcomeMark :outcome="entry.outcome" bare />
      <span
        >{{ entry.short }} <span class="quiet">– {{ entry.meaning }}</span></span
      >
    </li>
    <li>
      <OutcomeMark outcome="connection lost" running bare />
      <span>Running <span class="quiet">– or silent, and waiting for your answer</span></span>
    </li>
  </ul>
</template>

<style scoped>
.legend {
  display: grid;
  gap: 6px;
  margin: 8px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 8px;
}
</style>
