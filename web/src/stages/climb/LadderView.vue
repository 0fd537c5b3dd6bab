<!-- The ladder: rungs from the furthest down to stock, on one axis of gains. -->
<script setup lang="ts">
import { computed } from 'vue'

import type { Knob, Workload } from '../../api/campaigns'
import type { Ladder, Rung } from '../../api/ladder'
import { useLiveList } from '../../api/live'
import { knobValue, signed } from '../../words/format'
import TableTools from '../../parts/TableTools.vue'
import LadderRung from './LadderRung.vue'

const props = defineProps<{
  ladder: Ladder
  knobs: Knob[]
  workload: Workload
  campaignId: number
  openId: number | undefined
  withStandin: boolean
}>()
defineEmits<{ toggle: [rung: Rung]; log: [settingId: number]; live: [settingId: number] }>()

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
  props.ladder.rungs.map((rung) => [
    ...props.knobs.map((knob) => rung.values[knob.key]),
    rung.runs.length,
    rung.failures,
    rung.summary?.mean,
    rung.gain?.ratio,
    rung.gain?.low,
    rung.gain?.high,
    rung.gain?.basis,
    rung.power.mean_w,
    rung.temp_max_c,
    rung.efficiency?.amount,
    rung.efficiency?.unit,
  ]),
)
const columns = computed(() => `repeat(${props.knobs.length}, minmax(52px, auto))`)
const noise = computed(() => props.ladder.pooled && (props.ladder.pooled.sd_log * 100).toFixed(2))
</script>

<template>
  <div class="ladder" :style="{ '--knobs': columns }" role="table" :aria-label="`Ladder of ${workload.name}`">
    <div class="rung-grid top" role="row">
      <span class="knobs" role="columnheader">
        <span v-for="knob in knobs" :key="knob.key" class="knob"
          >{{ knob.name }}<span class="unit">{{ knob.unit }}</span></span
        >
      </span>
      <span role="columnheader">Runs</span>
      <span class="right" role="columnheader"
        >Mean<span class="unit">{{ workload.unit }}</span></span
      >
      <span role="columnheader">Gain<span class="unit">95 % interval</span></span>
      <span class="axis" role="columnheader" aria-label="Gain on a common axis">
        <span
          v-for="(tick, index) in ticks"
          :key="tick.text"
          :class="{ odd: (index - stockTick) % 2 !== 0 }"
          :style="{ left: tick.left }"
          >{{ tick.text }}</span
        >
      </span>
      <span class="right" role="columnheader">Power<span class="unit">W</span></span>
      <span class="right" role="columnheader">Highest<span class="unit">°C</span></span>
      <span class="right efficiency" role="columnheader">
        {{ workload.measure === 'time' ? 'Energy' : 'Efficiency'
        }}<span class="unit">{{
          workload.measure === 'time' ? 'J/pass' : workload.measure === 'score' ? 'points/W' : 'frames/J'
        }}</span>
      </span>
    </div>
    <LadderRung
      v-for="rung in ladder.rungs"
      :key="rung.setting_id"
      :rung="rung"
      :knobs="knobs"
      :low="ladder.axis_low"
      :high="ladder.axis_high"
      :workload="workload"
      :campaign-id="campaignId"
      :open="openId === rung.setting_id"
      :live-ids="liveIds"
      :with-standin="withStandin"
      @toggle="$emit('toggle', rung)"
      @log="$emit('log', rung.setting_id)"
      @live="$emit('live', rung.setting_id)"
    />
  </div>
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
.ladder :deep(.rung-grid) {
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
  .ladder :deep(.rung-grid) {
    grid-template-columns: 22px minmax(190px, 2fr) 72px 70px 110px minmax(90px, 1.6fr) 40px 48px;
    gap: 0 10px;
  }
  .ladder :deep(.efficiency),
  .axis .odd {
    display: none;
  }
}
</style>
