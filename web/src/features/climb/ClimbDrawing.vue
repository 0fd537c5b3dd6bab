<!-- One knob's climb as a drawing: settings at their place from stock upwards, the chance to hold beside them, the hold line, the next test. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { useElementSize } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'

import type { ClimbView } from '../../api/climb'
import type { LadderSetting } from '../../api/ladder'
import { inFull, reachOf } from '../../charts/climbPlaces'
import { savePng, saveSvg } from '../../ui/saveDrawing'
import { gridTicks } from '../../charts/ticks'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import { counted, gain as gainWords, gainRange, knobValue, number, signed } from '../../ui/words/format'
import { holdMark, holdSentence } from '../../ui/words/holds'
import { type Cell, downloadCsv } from '../../ui/words/tables'

const props = defineProps<{
  climb: ClimbView
  settings: LadderSetting[]
  workload: string
  next: number | undefined
  chosen: number | undefined
  height: number
}>()
const emit = defineEmits<{ choose: [settingId: number] }>()

const frame = ref<HTMLElement>()
const svg = useTemplateRef<SVGElement>('svg')
const { width: seen } = useElementSize(frame)
const width = computed(() => Math.max(520, Math.round(seen.value || 640)))

const knob = computed(() => props.climb.knob)
const away = (value: number): number => (value - knob.value.stock) * knob.value.away
const words = (value: number): string =>
  value === knob.value.stock ? 'stock' : `${knobValue(value, knob.value.stock)} ${knob.value.unit}`.trim()
const reach = computed(() => reachOf(props.climb, props.next))
const TOP = 44
const bottom = computed(() => props.height - 16)
const y = (value: number): number => bottom.value - (away(value) / reach.value) * (bottom.value - TOP)
const within = (value: number): boolean => away(value) >= -1e-9 && away(value) <= reach.value + 1e-9

const SAFETY_LIMIT = 70
const band = computed(() => ({ from: SAFETY_LIMIT + 20, to: SAFETY_LIMIT + 20 + Math.round(width.value * 0.24) }))
const marksAt = computed(() => band.value.to + 14)
const gains = computed(() => ({ from: marksAt.value + 96, to: width.value - 100 }))

const end = computed(() => knob.value.stock + knob.value.away * reach.value)
const ticks = computed(() => gridTicks(knob.value.stock, end.value, knob.value.step))
const smallTicks = computed(() => {
  const steps = Math.floor(reach.value / knob.value.step + 1e-9)
  if ((bottom.value - TOP) / Math.max(steps, 1) < 6) return []
  return Array.from({ length: steps + 1 }, (_, index) => knob.value.stock + index * knob.value.step * knob.value.away)
})

/** The chance to hold as an outline: measured part and the part that only its shape predicts. */
const curve = computed(() => props.climb.curve.filter((point) => within(point.value)))
const x = (holds: number): number => band.value.from + holds * (band.value.to - band.value.from)
const outline = (points: ClimbView['curve']): string =>
  points.map((point, index) => `${index ? 'L' : 'M'}${x(point.holds).toFixed(1)} ${y(point.value).toFixed(1)}`).join('')
const tried = computed(() => curve.value.filter((point) => away(point.value) <= away(props.climb.tested_to) + 1e-9))
const predicted = computed(() => curve.value.filter((point) => away(point.value) >= away(props.climb.tested_to) - 1e-9))
const area = computed(() => {
  const points = tried.value
  if (points.length < 2) return ''
  const last = points[points.length - 1]!
  return `M${band.value.from} ${y(points[0]!.value)}${outline(points).replace('M', 'L')}L${band.value.from} ${y(last.value)}Z`
})

interface Row {
  setting: LadderSetting
  id: number
  value: number
  y: number
  weight: number
}
const rows = computed<Row[]>(() =>
  props.settings
    .map((setting) => ({ setting, id: setting.setting_id, value: setting.values[knob.value.key] ?? knob.value.stock }))
    .filter((row) => within(row.value))
    .map((row) => ({
      ...row,
      y: y(row.value),
      weight:
        row.id === props.chosen
          ? 4
          : row.value === props.climb.hold
            ? 3
            : row.value === knob.value.stock
              ? 2
              : row.setting.run_count
                ? 1
                : 0,
    })),
)
const full = computed(() => inFull(rows.value))
const MOST_MARKS = 5
/** Runs of every workload along the knob, by value: a failure elsewhere counts here too. */
const marks = computed(() => {
  const found = new Map<number, { id: number; outcome: ClimbView['trials'][number]['outcome'] }[]>()
  for (const { run_id: id, value, outcome } of props.climb.trials)
    found.set(value, [...(found.get(value) ?? []), { id, outcome }])
  for (const some of found.values()) some.sort((a, b) => Number(a.outcome === 'completed') - Number(b.outcome === 'completed'))
  return found
})
const marksOf = (row: Row) => (marks.value.get(row.value) ?? []).slice(0, MOST_MARKS)
const runsAt = computed(() => new Map(props.climb.runs_at.map((one) => [one.value, one])))
const runsOf = (row: Row): number => runsAt.value.get(row.value)?.runs ?? 0
const runs = computed(() => props.climb.runs_at.reduce((sum, one) => sum + one.runs, 0))

/** One axis for all gains that are drawn, stock always on it. */
const axis = computed(() => {
  const ends = rows.value.flatMap((row) =>
    row.setting.gain ? [row.setting.gain.low ?? row.setting.gain.ratio, row.setting.gain.high ?? row.setting.gain.ratio] : [],
  )
  const low = Math.min(1, ...ends)
  const high = Math.max(1.01, ...ends)
  const margin = (high - low) * 0.06
  return { low: low - margin, high: high + margin }
})
const gx = (ratio: number): number =>
  gains.value.from + ((ratio - axis.value.low) / (axis.value.high - axis.value.low)) * (gains.value.to - gains.value.from)
const gainTicks = computed(() => {
  const { low, high } = axis.value
  const step = [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5].find((size) => (high - low) / size <= 4.5) ?? 1
  const first = Math.ceil((low - 1) / step)
  return Array.from({ length: Math.max(0, Math.floor((high - 1) / step) - first + 1) }, (_, index) => (first + index) * step).map(
    (gain) => ({ ratio: 1 + gain, text: Math.abs(gain) < 1e-9 ? 'stock' : `${signed(gain * 100, step < 0.01 ? 1 : 0)} %` }),
  )
})
const sideOf = (setting: LadderSetting): string =>
  setting.gain?.low == null || setting.gain.high == null
    ? ''
    : setting.gain.low > 1
      ? 'gain'
      : setting.gain.high < 1
        ? 'loss'
        : 'quiet'
const failed = (row: Row): boolean => (runsAt.value.get(row.value)?.failed ?? 0) > 0

const labelOf = (row: Row): string => {
  const parts = [words(row.value), counted(runsOf(row), 'run')]
  if (row.setting.gain) {
    const { ratio, low, high } = row.setting.gain
    parts.push(low != null && high != null ? `${gainWords(ratio)}, ${gainRange(low, high)}` : gainWords(ratio))
  }
  return parts.join(', ')
}
/** What held although more was asked of the part counts here, too. */
const harder = computed(() =>
  props.climb.harder_h > 0 ? ` and ${number(props.climb.harder_h, 1)}\u00a0h without failure at harder settings` : '',
)
/** Hours and failures of kept settings in use, that say something along this knob. */
const inUse = computed(() => {
  const { use_h: hours, use_failures: failures } = props.climb
  const said = [hours > 0 ? `${number(hours, 1)}\u00a0h` : '', failures > 0 ? counted(failures, 'failure') : '']
  return hours > 0 || failures > 0 ? `; in use ${said.filter(Boolean).join(' and ')}` : ''
})
const says = computed(() => `${holdSentence(props.climb)}, from ${counted(runs.value, 'run')}${harder.value}${inUse.value}.`)
const name = computed(() => `Climb of ${knob.value.name.toLowerCase()}`)
const headers = [
  'value',
  'chance_to_hold',
  'failures_per_h',
  'low',
  'high',
  'setting',
  'ratio',
  'ratio_low',
  'ratio_high',
  'power_w',
  'highest_c',
]
function csv(): void {
  const byId = new Map(props.settings.map((setting) => [setting.setting_id, setting]))
  const cells: Cell[][] = props.climb.curve.map((point) => {
    const setting = byId.get(point.setting_id ?? -1)
    return [
      point.value,
      point.holds,
      point.per_h,
      point.low_per_h,
      point.high_per_h,
      setting?.title,
      setting?.gain?.ratio,
      setting?.gain?.low,
      setting?.gain?.high,
      setting?.power.mean_w,
      setting?.temp_max_c,
    ]
  })
  downloadCsv(name.value, headers, cells)
}
</script>

<template>
  <figure ref="frame" class="drawing" data-test="climb-drawing">
    <svg ref="svg" :width="width" :height="height" :viewBox="`0 0 ${width} ${height}`" role="group" :aria-label="says">
      <g class="small">
        <text :x="SAFETY_LIMIT - 8" y="16" text-anchor="end">{{ knob.unit }}</text>
        <text :x="band.from" y="16">chance to hold for good</text>
        <text :x="band.from" y="32">0</text>
        <text :x="band.to" y="32" text-anchor="end">100 %</text>
        <text :x="marksAt" y="16">runs</text>
        <text :x="gains.from" y="16">gain on {{ workload }}</text>
        <text v-for="tick in gainTicks" :key="tick.text" :x="gx(tick.ratio)" y="32" text-anchor="middle">{{ tick.text }}</text>
        <text :x="width - 56" y="16" text-anchor="end">W</text>
        <text :x="width - 8" y="16" text-anchor="end">°C</text>
      </g>
      <line class="stock-line" :x1="gx(1)" :x2="gx(1)" :y1="TOP - 6" :y2="bottom" />
      <!-- the chance to hold -->
      <path :d="area" class="area" />
      <path :d="outline(tried)" class="curve" />
      <path :d="outline(predicted)" class="curve predicted" />
      <!-- the ladder's two safety limits and its scale -->
      <line class="safety-limit" :x1="SAFETY_LIMIT" :x2="SAFETY_LIMIT" :y1="TOP - 8" :y2="bottom + 8" />
      <line class="safety-limit" :x1="SAFETY_LIMIT + 14" :x2="SAFETY_LIMIT + 14" :y1="TOP - 8" :y2="bottom + 8" />
      <line
        v-for="value in smallTicks"
        :key="`t${value}`"
        class="tick"
        :x1="SAFETY_LIMIT - 4"
        :x2="SAFETY_LIMIT"
        :y1="y(value)"
        :y2="y(value)"
      />
      <text v-for="value in ticks" :key="value" class="small scale" :x="SAFETY_LIMIT - 8" :y="y(value) + 4" text-anchor="end">
        {{ value === knob.stock ? 'stock' : knobValue(value, knob.stock) }}
      </text>
      <!-- settings -->
      <g v-for="row in rows" :key="row.id" :class="['setting', { on: row.id === chosen, failed: failed(row) }]">
        <rect
          class="hit"
          role="button"
          tabindex="0"
          :aria-label="labelOf(row)"
          :aria-pressed="row.id === chosen"
          :x="0"
          :y="row.y - (full.has(row.id) ? 9 : 2)"
          :width="width"
          :height="full.has(row.id) ? 18 : 4"
          @click="emit('choose', row.id)"
          @keydown.enter="emit('choose', row.id)"
          @keydown.space.prevent="emit('choose', row.id)"
        />
        <line class="step" :x1="SAFETY_LIMIT" :x2="SAFETY_LIMIT + 14" :y1="row.y" :y2="row.y" />
        <g v-if="full.has(row.id)" aria-hidden="true">
          <OutcomeMark
            v-for="(mark, index) in marksOf(row)"
            :key="mark.id"
            :outcome="mark.outcome as never"
            bare
            :size="13"
            :x="marksAt + index * 15"
            :y="row.y - 6.5"
          />
          <text v-if="runsOf(row) > MOST_MARKS" class="small" :x="marksAt + MOST_MARKS * 15 + 1" :y="row.y + 4">
            +{{ runsOf(row) - MOST_MARKS }}
          </text>
          <g v-if="row.setting.gain" :class="['whisker', sideOf(row.setting)]">
            <line
              v-if="row.setting.gain.low != null && row.setting.gain.high != null"
              :x1="gx(row.setting.gain.low)"
              :x2="gx(row.setting.gain.high)"
              :y1="row.y"
              :y2="row.y"
            />
            <line
              class="mean"
              :x1="gx(row.setting.gain.ratio)"
              :x2="gx(row.setting.gain.ratio)"
              :y1="row.y - 6"
              :y2="row.y + 6"
            />
          </g>
          <text v-if="row.setting.power.mean_w != null" class="number" :x="width - 56" :y="row.y + 4" text-anchor="end">
            {{ number(row.setting.power.mean_w, 0) }}
          </text>
          <text v-if="row.setting.temp_max_c != null" class="number" :x="width - 8" :y="row.y + 4" text-anchor="end">
            {{ number(row.setting.temp_max_c, 1) }}
          </text>
        </g>
      </g>
      <!-- the hold line -->
      <g v-if="climb.hold_state !== 'nothing'" class="hold">
        <line :x1="SAFETY_LIMIT" :x2="marksAt - 4" :y1="y(climb.hold)" :y2="y(climb.hold)" />
        <!-- at the top it would stand on the scale's own words -->
        <text :x="band.from + 6" :y="y(climb.hold) + (y(climb.hold) < TOP + 16 ? 15 : -5)">
          {{ holdMark(climb) }}
        </text>
      </g>
      <!-- the next test -->
      <g v-if="next !== undefined && within(next)" class="next-test">
        <path :d="`M${SAFETY_LIMIT + 16} ${y(next)}l11 -6v12z`" />
        <text :x="SAFETY_LIMIT + 31" :y="y(next) + 4">next</text>
      </g>
    </svg>
    <figcaption>
      <span class="quiet">{{ says }} <template v-if="predicted.length > 1">Dashed: nothing was tried there yet.</template></span>
      <span class="ways">
        <AButton size="small" type="text" @click="csv">CSV</AButton>
        <AButton size="small" type="text" @click="saveSvg(svg, name)">SVG</AButton>
        <AButton size="small" type="text" @click="savePng(svg, name)">PNG</AButton>
      </span>
    </figcaption>
  </figure>
</template>

<style scoped>
.drawing {
  min-width: 0;
  margin: 0;
  overflow-x: auto;
}
svg {
  display: block;
}
text {
  fill: var(--ink);
  font-size: 13px;
  font-variant-numeric: tabular-nums;
}
.small,
.small text {
  fill: var(--quiet);
  font-size: 12px;
}
.safety-limit {
  stroke: var(--quiet);
  stroke-width: 2;
}
.tick {
  stroke: var(--quiet);
}
.stock-line {
  stroke: var(--quiet);
  stroke-dasharray: 2 4;
}
.area {
  fill: var(--petrol);
  fill-opacity: 0.1;
}
.curve {
  fill: none;
  stroke: var(--petrol);
  stroke-width: 2;
}
.predicted {
  stroke-dasharray: 4 4;
}
.hold,
.next-test {
  pointer-events: none;
}
.hold line {
  stroke: var(--ochre);
  stroke-width: 1.5;
}
.hold text {
  fill: var(--ochre);
  font-size: 12px;
}
.setting > :not(.hit) {
  pointer-events: none;
}
.hit {
  cursor: pointer;
  fill: transparent;
}
.setting:hover .hit,
.setting.on .hit {
  fill: var(--wash);
  fill-opacity: 0.7;
}
.hit:focus-visible {
  outline: none !important;
  stroke: var(--petrol);
  stroke-width: 2;
}
.step {
  stroke: var(--petrol);
  stroke-width: 3;
}
.failed .step {
  stroke: var(--orange);
  stroke-dasharray: 3 2;
}
.whisker {
  color: var(--quiet);
}
.whisker.gain {
  color: var(--moss);
}
.whisker.loss {
  color: var(--plum);
}
.whisker line {
  stroke: currentColor;
  stroke-width: 1.5;
}
.whisker .mean {
  stroke-width: 4;
}
.next-test path,
.next-test text {
  fill: var(--petrol);
  font-weight: 700;
}
figcaption {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 16px;
  font-size: 12px;
}
.ways {
  flex: none;
}
</style>
