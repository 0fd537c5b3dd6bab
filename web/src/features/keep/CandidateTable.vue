<!-- Settings that may be kept, one a column, stock last: what each brings, costs, and rests on. -->
<script setup lang="ts">
import { computed } from 'vue'

import type { KeepView, Kept } from '../../api/keep'
import MeasureFigure from '../../ui/MeasureFigure.vue'
import { chance, counted, gain, gainRange, number, signed } from '../../ui/words/format'

const props = defineProps<{ keep: KeepView; chosen: number }>()
defineEmits<{ choose: [id: number] }>()

const columns = computed(() => [...props.keep.candidates, props.keep.stock])
type Row = { name: string; says: (one: Kept) => string; more?: (one: Kept) => string }
const ratio = (one: { ratio: number; low?: number | null; high?: number | null } | null | undefined): string =>
  one ? gain(one.ratio) : '–'
const range = (one: { low?: number | null; high?: number | null } | null | undefined): string =>
  one?.low != null && one.high != null ? gainRange(one.low, one.high) : ''
const apart = (one: Kept['judged']['heat'], unit: string): string => (one ? `${signed(one.value, 1)} ${unit}` : '–')
/** What is believed of its stability: the one figure for it, on every screen. */
const stabilityOf = (one: Kept) => one.judged.conditions.find((condition) => condition.key === 'stability')
const stability = computed(() => columns.value.map(stabilityOf).find((one) => one))
function chanceOf(one: Kept): string {
  const found = stabilityOf(one)
  if (!found) return '–'
  if (found.chance != null) return chance(found.chance)
  return found.state === 'broken' ? 'it failed' : found.state === 'shown' ? 'as stock' : 'not tested'
}
const rows = computed<Row[]>(() => [
  { name: 'Overall speed', says: (one) => ratio(one.judged.speed), more: (one) => range(one.judged.speed) },
  { name: 'Power', says: (one) => (one.power ? gain(one.power.value) : '–'), more: (one) => range(one.power) },
  { name: 'Degrees over room', says: (one) => apart(one.judged.heat, '°C') },
  ...(columns.value.some((one) => one.judged.noise)
    ? [{ name: 'Noise', says: (one: Kept) => apart(one.judged.noise, 'dB(A)') }]
    : []),
  {
    name: 'Tested',
    says: (one) => `${number(one.hours, 1)} h`,
    more: (one) => (one.judged.failures ? `failed ${counted(one.judged.failures, 'time')}` : 'no failure'),
  },
  {
    name: stability.value?.name.text.replace(/^a/, 'A') ?? 'Stability',
    says: (one) => chanceOf(one),
    more: (one) => (stabilityOf(one)?.chance == null ? '' : 'sure, from all tests of its knobs'),
  },
])
</script>

<template>
  <div id="may-be-kept" class="scroll-x" tabindex="0" role="region" aria-label="Settings that may be kept">
    <table class="ledger candidates" data-test="candidates">
      <thead>
        <tr>
          <th><span class="visually-hidden">What</span></th>
          <th v-for="one in columns" :key="one.judged.setting_id" :class="{ on: one.judged.setting_id === chosen }">
            <button
              type="button"
              :aria-pressed="one.judged.setting_id === chosen"
              @click="$emit('choose', one.judged.setting_id)"
            >
              {{ one.judged.title }}
            </button>
            <span class="quiet">{{ one.kept ? 'kept' : one.judged.standing === 'stock' ? '' : one.judged.standing }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <th scope="row">By the goal</th>
          <td v-for="one in columns" :key="one.judged.setting_id" :class="{ on: one.judged.setting_id === chosen }">
            <MeasureFigure v-if="one.judged.measure" :measure="one.judged.measure" stacked />
            <span v-else class="quiet">–</span>
          </td>
        </tr>
        <tr v-for="row in rows" :key="row.name">
          <th scope="row">{{ row.name }}</th>
          <td v-for="one in columns" :key="one.judged.setting_id" :class="{ on: one.judged.setting_id === chosen }">
            <span class="figure estimate">{{ row.says(one) }}</span>
            <span v-if="row.more?.(one)" class="quiet small">{{ row.more(one) }}</span>
          </td>
        </tr>
        <tr>
          <th scope="row">Not shown</th>
          <td v-for="one in columns" :key="one.judged.setting_id" :class="{ on: one.judged.setting_id === chosen }">
            <span
              v-for="open in one.judged.conditions.filter((c) => c.state !== 'shown')"
              :key="open.name.code"
              class="open small"
            >
              {{ open.name.text }}{{ open.state === 'broken' ? ': broken' : '' }}
            </span>
            <span v-if="one.judged.conditions.every((c) => c.state === 'shown')" class="quiet small">{{
              one.judged.conditions.length ? 'everything is shown' : '–'
            }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.candidates th[scope='row'] {
  width: 150px;
  border-bottom: 1px solid var(--rule);
  vertical-align: baseline;
}
.candidates thead th {
  border-top: 3px solid transparent;
  vertical-align: top;
}
.candidates thead th.on {
  border-top-color: var(--petrol);
}
.candidates .on {
  background: var(--wash);
}
button {
  display: block;
  padding: 0;
  border: 0;
  background: none;
  color: var(--petrol);
  font: inherit;
  font-weight: 700;
  text-align: left;
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
}
.small {
  display: block;
  font-size: 12px;
}
</style>
