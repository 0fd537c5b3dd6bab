<!-- The ladder: settings from the furthest down to stock, on one axis of gains. -->
<script setup lang="ts">
import { Button as AButton, Input as AInput, Radio as ARadio } from 'ant-design-vue'
import { computed, ref, useId, watch } from 'vue'

import type { Knob, Workload } from '../../api/campaigns'
import type { Ladder, LadderSetting } from '../../api/ladder'
import { useLiveList } from '../../api/live'
import { knobValue, signed } from '../../ui/words/format'
import TableTools from '../../ui/TableTools.vue'
import LadderRow from './LadderRow.vue'

const props = defineProps<{
  ladder: Ladder
  knobs: Knob[]
  workload: Workload
  campaignId: number
  openId: number | undefined
  withSimulator: boolean
}>()
defineEmits<{ toggle: [setting: LadderSetting]; log: [settingId: number]; live: [settingId: number] }>()

/** Sorted by a column, or as the ladder stands: furthest from stock on top. */
type Column = { key: string; of: (setting: LadderSetting) => number | undefined | null }
const columnsOf = computed<Column[]>(() => [
  ...props.knobs.map((knob) => ({ key: knob.key, of: (setting: LadderSetting) => setting.values[knob.key] })),
  { key: 'runs', of: (setting) => setting.run_count },
  { key: 'mean', of: (setting) => setting.summary?.mean },
  { key: 'gain', of: (setting) => setting.gain?.ratio },
  { key: 'power', of: (setting) => setting.power.mean_w },
  { key: 'highest', of: (setting) => setting.temp_max_c },
  { key: 'efficiency', of: (setting) => setting.efficiency?.amount },
])
const sorted = ref<{ key: string; down: boolean }>()
function sortBy(key: string): void {
  if (sorted.value?.key !== key) sorted.value = { key, down: true }
  else sorted.value = sorted.value.down ? { key, down: false } : undefined
}
const arrow = (key: string): string => (sorted.value?.key !== key ? '' : sorted.value.down ? ' ↓' : ' ↑')
const order = (key: string): 'ascending' | 'descending' | 'none' =>
  sorted.value?.key !== key ? 'none' : sorted.value.down ? 'descending' : 'ascending'
const filter = ref('')
const kinds = ref<'all' | 'held' | 'failed' | 'not run'>('all')
const found = computed(() => {
  const words = filter.value.toLowerCase().split(/\s+/).filter(Boolean)
  const kind = (setting: LadderSetting): string =>
    setting.failures + setting.failures_elsewhere ? 'failed' : setting.run_count ? 'held' : 'not run'
  const kept = props.ladder.settings.filter(
    (setting) =>
      words.every((word) => setting.title.toLowerCase().replace('−', '-').includes(word)) &&
      (kinds.value === 'all' || kind(setting) === kinds.value),
  )
  const column = columnsOf.value.find((one) => one.key === sorted.value?.key)
  if (!column) return kept
  const sign = sorted.value?.down ? -1 : 1
  const empty = (setting: LadderSetting): boolean => column.of(setting) == null
  return [...kept].sort((a, b) => Number(empty(a)) - Number(empty(b)) || sign * ((column.of(a) ?? 0) - (column.of(b) ?? 0)))
})
/** A long ladder is drawn a stretch at a time. */
const STRETCH = 40
const most = ref(STRETCH)
watch([filter, kinds, sorted], () => (most.value = STRETCH))
const shown = computed(() => found.value.slice(0, most.value))

const { data: going } = useLiveList()
const liveIds = computed(() => new Set(going.value?.map((live) => live.run_id)))

const TICK_STEPS = [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1]
/** Round places on the axis, at most six, always with stock among them. */
const ticks = computed(() => {
  const { axis_low: low, axis_high: high } = props.ladder
  const step = TICK_STEPS.find((size) => (high - low) / size <= 6) ?? 2
  const from = Math.ceil((low - 1) / step)
  const count = Math.floor((high - 1) / step) - from + 1
  return Array.from({ length: Math.max(0, count) }, (_, i) => (from + i) * step).map((gain) => ({
    left: `${((1 + gain - low) / (high - low)) * 100}%`,
    text: Math.abs(gain) < 1e-9 ? 'stock' : `${signed(gain * 100, step < 0.01 ? 1 : 0)} %`,
  }))
})
const stockTick = computed(() => ticks.value.findIndex((tick) => tick.text === 'stock'))

const headers = computed(() => [
  ...props.knobs.map((knob) => `${knob.name} ${knob.unit}`.trim()),
  'runs',
  'failures',
  `mean ${props.workload.unit}`,
  'ratio to stock',
  'ratio low',
  'ratio high',
  'basis',
  'power W',
  'highest °C',
  'efficiency',
  'efficiency unit',
])
const rows = computed(() =>
  props.ladder.settings.map((setting) => [
    ...props.knobs.map((knob) => setting.values[knob.key]),
    setting.run_count,
    setting.failures,
    setting.summary?.mean,
    setting.gain?.ratio,
    setting.gain?.low,
    setting.gain?.high,
    setting.gain?.basis,
    setting.power.mean_w,
    setting.temp_max_c,
    setting.efficiency?.amount,
    setting.efficiency?.unit,
  ]),
)
const id = useId()
const columns = computed(() => `repeat(${props.knobs.length}, minmax(52px, auto))`)
const noise = computed(() => props.ladder.pooled && (props.ladder.pooled.sd_log * 100).toFixed(2))
</script>

<template>
  <div class="find">
    <label :for="id">Find</label>
    <AInput :id="id" v-model:value="filter" allow-clear placeholder="part of a setting, such as: core +90" :maxlength="80" />
    <ARadio.Group v-model:value="kinds" size="small" aria-label="Which settings">
      <ARadio.Button v-for="one in ['all', 'held', 'failed', 'not run']" :key="one" :value="one">{{ one }}</ARadio.Button>
    </ARadio.Group>
    <span class="quiet">{{ found.length }} of {{ ladder.settings.length }}</span>
  </div>
  <div class="ladder" :style="{ '--knobs': columns }" role="treegrid" :aria-label="`Ladder of ${workload.name}`">
    <div class="setting-grid top" role="row">
      <span class="knobs" role="columnheader">
        <button v-for="knob in knobs" :key="knob.key" type="button" class="knob" @click="sortBy(knob.key)">
          {{ knob.name }}{{ arrow(knob.key) }}<span class="unit">{{ knob.unit }}</span>
        </button>
      </span>
      <span role="columnheader" :aria-sort="order('runs')"
        ><button type="button" @click="sortBy('runs')">Runs{{ arrow('runs') }}</button></span
      >
      <span class="right" role="columnheader" :aria-sort="order('mean')"
        ><button type="button" class="right" @click="sortBy('mean')">
          Mean{{ arrow('mean') }}<span class="unit">{{ workload.unit }}</span>
        </button></span
      >
      <span role="columnheader" :aria-sort="order('gain')"
        ><button type="button" @click="sortBy('gain')">
          Gain{{ arrow('gain') }}<span class="unit">95 % interval</span>
        </button></span
      >
      <span class="axis" role="columnheader" aria-label="Gain on a common axis">
        <span
          v-for="(tick, index) in ticks"
          :key="tick.text"
          :class="{ odd: (index - stockTick) % 2 !== 0 }"
          :style="{ left: tick.left }"
          >{{ tick.text }}</span
        >
      </span>
      <span class="right" role="columnheader" :aria-sort="order('power')"
        ><button type="button" class="right" @click="sortBy('power')">
          Power{{ arrow('power') }}<span class="unit">W</span>
        </button></span
      >
      <span class="right" role="columnheader" :aria-sort="order('highest')"
        ><button type="button" class="right" @click="sortBy('highest')">
          Highest{{ arrow('highest') }}<span class="unit">°C</span>
        </button></span
      >
      <span class="right efficiency" role="columnheader" :aria-sort="order('efficiency')">
        <button type="button" class="right" @click="sortBy('efficiency')">
          {{ workload.measure === 'time' ? 'Energy' : 'Efficiency' }}{{ arrow('efficiency')
          }}<span class="unit">{{
            workload.measure === 'time' ? 'J/pass' : workload.measure === 'score' ? 'points/W' : 'frames/J'
          }}</span>
        </button>
      </span>
    </div>
    <LadderRow
      v-for="setting in shown"
      :key="setting.setting_id"
      :setting="setting"
      :knobs="knobs"
      :low="ladder.axis_low"
      :high="ladder.axis_high"
      :workload="workload"
      :campaign-id="campaignId"
      :open="openId === setting.setting_id"
      :live-ids="liveIds"
      :with-simulator="withSimulator"
      @toggle="$emit('toggle', setting)"
      @log="$emit('log', setting.setting_id)"
      @live="$emit('live', setting.setting_id)"
    />
  </div>
  <AButton v-if="found.length > shown.length" class="rest" @click="most = found.length"
    >Show the other {{ found.length - shown.length }}</AButton
  >
  <p class="foot quiet">
    <span>
      Top is furthest from stock ({{
        knobs.map((knob) => `${knob.name.toLowerCase()} ${knobValue(knob.stock, knob.stock)} ${knob.unit}`.trim()).join(', ')
      }}).
      <template v-if="noise"
        >Intervals rest on the repeats of this workload: single runs differ by {{ noise }} % (one deviation).</template
      >
      <template v-else>No setting has been repeated yet, so no interval can be given.</template>
    </span>
    <TableTools :name="`Ladder of ${workload.name}`" :headers="headers" :rows="rows" />
  </p>
</template>

<style scoped>
.ladder :deep(.setting-grid) {
  display: grid;
  grid-template-columns: 26px minmax(230px, 2.3fr) minmax(88px, 1fr) 84px 168px minmax(140px, 2.4fr) 62px 66px 78px;
  gap: 0 12px;
  align-items: center;
}
.top {
  position: sticky;
  top: 0;
  z-index: 2;
  padding: 4px 0;
  border-bottom: 1px solid var(--ink);
  background: var(--ground);
  color: var(--quiet);
  font-size: 13px;
  line-height: 16px;
}
.top button {
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.top button.right,
.top button.knob {
  text-align: right;
}
.find {
  display: grid;
  grid-template-columns: auto minmax(0, 320px) auto 1fr;
  gap: 12px;
  align-items: center;
  margin-bottom: 4px;
}
.rest {
  margin-top: 8px;
}
.top > :first-child {
  grid-column: 2;
}
.unit {
  display: block;
  font-size: 12px;
}
.right {
  text-align: right;
}
.ladder :deep(.knobs) {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  grid-auto-flow: column;
  grid-auto-columns: 1fr;
  gap: 8px;
}
.top .knob {
  text-align: right;
}
.axis {
  position: relative;
  align-self: end;
  height: 16px;
}
.axis span {
  position: absolute;
  transform: translateX(-50%);
  font-size: 12px;
  line-height: 16px;
  white-space: nowrap;
}
.foot {
  display: flex;
  justify-content: space-between;
  gap: 24px;
  margin-top: 8px;
  font-size: 13px;
}
@media (max-width: 1100px) {
  /* four knobs side by side: words stay whole, in a smaller cut */
  .top .knob {
    overflow-wrap: normal;
    font-size: 11px;
    letter-spacing: -0.01em;
  }
  .ladder :deep(.knobs) {
    gap: 6px;
  }
  .ladder :deep(.setting-grid) {
    grid-template-columns: 22px minmax(190px, 2fr) 72px 70px 110px minmax(90px, 1.6fr) 40px 48px;
    gap: 0 10px;
  }
  .ladder :deep(.efficiency),
  .axis .odd {
    display: none;
  }
}
@media (max-width: 620px) {
  .ladder {
    position: relative;
    overflow-x: auto;
  }
  .ladder > * {
    min-width: 700px;
  }
}
</style>
