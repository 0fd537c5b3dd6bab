<!-- What is left at stock: heat, power, steadiness of the clock. -->
<script setup lang="ts">
import type { BaselineOfWorkload } from '../../api/baseline'
import { number } from '../../ui/words/format'

defineProps<{ cards: BaselineOfWorkload['cards'] }>()
const decimals = (unit: string): number => (unit === '°C' ? 1 : 0)
</script>

<template>
  <ul class="cards">
    <li v-for="card in cards" :key="card.name" :class="card.state">
      <span class="quiet">{{ card.name }}</span>
      <span v-if="card.left != null" class="figure">
        {{ number(card.left, decimals(card.unit)) }} {{ card.unit }}
        <span class="quiet">{{
          card.limit != null ? `of ${number(card.limit, 0)} ${card.unit}` : `apart at ${number(card.reading, 0)} ${card.unit}`
        }}</span>
      </span>
      <span :class="{ caution: card.state === 'close', warning: card.state === 'none', quiet: card.state === 'unknown' }">{{
        card.says.text
      }}</span>
    </li>
  </ul>
</template>

<style scoped>
.cards {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 32px;
  margin: 4px 0 8px;
  padding: 0;
  list-style: none;
  font-size: 13px;
}
li {
  display: flex;
  gap: 8px;
}
</style>
