<!-- Failures an hour on a logarithmic scale: what is accepted, what all trials say, what the setting's own runs say. -->
<script setup lang="ts">
import { computed } from 'vue'

import type { ProofView } from '../../api/proof'
import { number, often } from '../../ui/words/format'

const props = defineProps<{ accepted: number; own: ProofView['own']; expected: ProofView['expected']; knob: string }>()

const LOW = -5
const HIGH = 2
/** Place on the scale, in percent of its width. */
const at = (perHour: number): number =>
  Math.min(100, Math.max(0, ((Math.log10(Math.max(perHour, 1e-9)) - LOW) / (HIGH - LOW)) * 100))
const ticks = [
  { rate: 1e-4, text: '10 000 h' },
  { rate: 1e-2, text: '100 h' },
  { rate: 1, text: '1 h' },
]
const time = (hours: number): string => (hours < 1.5 ? `${number(hours * 60, 0)} min` : `${number(hours, 1)} h`)
const rows = computed(() => [
  ...(props.expected
    ? [
        {
          name: `all trials along ${props.knob.toLowerCase()}`,
          low: props.expected.low,
          high: props.expected.high,
          middle: props.expected.per_h as number | null,
        },
      ]
    : []),
  ...(props.own.hours > 0
    ? [
        {
          name: `its own ${time(props.own.hours)} alone, ${props.own.failures || 'none'} failed`,
          low: props.own.low,
          high: props.own.high ?? 1e9,
          middle: props.own.failures ? props.own.per_h : null,
        },
      ]
    : []),
])
</script>

<template>
  <div
    class="scale"
    role="img"
    :aria-label="
      rows.length === 0
        ? 'Nothing was run yet.'
        : rows.map((row) => `${row.name}: ${often(row.high)} to ${often(row.low)}, 90 %`).join('; ')
    "
  >
    <div v-for="row in rows" :key="row.name" class="row">
      <span class="quiet">{{ row.name }}</span>
      <span class="track">
        <span class="accepted" :style="{ left: `${at(accepted)}%` }" />
        <span class="range" :style="{ left: `${at(row.low)}%`, width: `${Math.max(0.5, at(row.high) - at(row.low))}%` }" />
        <span v-if="row.middle" class="middle" :style="{ left: `${at(row.middle)}%` }" />
      </span>
      <span class="estimate">
        <template v-if="row.middle">{{ often(row.middle) }}</template>
        <template v-else>at most {{ often(row.high) }}</template>
      </span>
    </div>
    <div class="row axis quiet">
      <span>one failure in</span>
      <span class="track">
        <span v-for="tick in ticks" :key="tick.rate" class="tick" :style="{ left: `${at(tick.rate)}%` }">{{ tick.text }}</span>
        <span class="tick caution" :style="{ left: `${at(accepted)}%`, top: '16px' }">accepted</span>
      </span>
      <span />
    </div>
  </div>
</template>

<style scoped>
.scale {
  margin: 8px 0 20px;
}
.row {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) 150px;
  gap: 12px;
  align-items: center;
  min-height: 32px;
  font-size: 13px;
  line-height: 16px;
}
.track {
  position: relative;
  height: 24px;
}
.track > * {
  position: absolute;
}
.accepted {
  top: -4px;
  bottom: -4px;
  width: 0;
  border-left: 1.6px solid var(--ochre);
}
.range {
  top: 10px;
  height: 4px;
  background: var(--petrol);
}
.middle {
  top: 6px;
  width: 12px;
  height: 12px;
  margin-left: -6px;
  border: 2px solid var(--sheet);
  background: var(--petrol);
  transform: rotate(45deg);
}
.axis .track {
  height: 36px;
  border-top: 1px solid var(--rule);
}
.tick {
  top: 0;
  transform: translateX(-50%);
  white-space: nowrap;
  font-size: 12px;
}
</style>
