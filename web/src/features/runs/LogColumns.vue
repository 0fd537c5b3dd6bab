<!-- Each column of a log: its first cells, what it is taken for and why, what it comes to, and what only the user can say. -->
<script setup lang="ts">
import { Button as AButton, Select as ASelect } from 'ant-design-vue'
import { computed, ref } from 'vue'

import type { LogChoice, LogPreview } from '../../api/logs'
import type { Schemas } from '../../api/client'
import type { Instrument } from '../../api/instruments'
import { counted } from '../../ui/words/format'
import LogColumn from './LogColumn.vue'
import { FRAME, LEFT_OUT, roleOf, TIME } from './logRoles'
import { readers } from './runDraft'

const points = readers([], 'power')

const props = defineProps<{
  preview: LogPreview
  fileName: string
  options: Schemas['LogOptions'] | undefined
  instruments: Instrument[]
}>()
const choice = defineModel<LogChoice>('choice', { required: true })
const emit = defineEmits<{
  layout: [layout: { separator?: string | null; decimal?: string | null; tuned?: string }]
  changed: []
}>()

const separators = [
  { value: ',', label: 'comma' },
  { value: ';', label: 'semicolon' },
  { value: '\t', label: 'tab' },
  { value: '|', label: 'bar' },
]
const decimals = [
  { value: '.', label: 'point' },
  { value: ',', label: 'comma' },
]
const orders = ['day first', 'month first'].map((value) => ({ value, label: value }))

/** Columns that the user has changed: what was seen of them before no longer says anything. */
const touched = ref<string[]>([])
const showAll = ref(false)

type Column = LogChoice['columns'][number]

function setRole(header: string, role: string): void {
  const next = { ...choice.value, columns: choice.value.columns.filter((column) => column.header !== header) }
  if (next.time_column === header) next.time_column = null
  if (next.date_column === header) next.date_column = null
  if (next.frame_column === header) next.frame_column = null
  if (role === FRAME) Object.assign(next, { kind: 'frames', frame_column: header })
  else if (role !== LEFT_OUT) {
    next.kind = 'telemetry'
    if (role === TIME) next.time_column = header
    else {
      next.columns.push({
        header,
        quantity: role as Column['quantity'],
        part: 'tuned part',
        tells: true,
        instrument_id: null,
        point: null,
        mark: null,
        unit: props.options?.units[role]?.[0] ?? '',
      })
      next.columns.sort((a, b) => props.preview.headers.indexOf(a.header) - props.preview.headers.indexOf(b.header))
    }
  }
  touch(header)
  set(next)
}

function touch(header: string): void {
  if (!touched.value.includes(header)) touched.value.push(header)
}

function set(next: Partial<LogChoice>): void {
  choice.value = { ...choice.value, ...next }
  emit('changed')
}

/** Changes one column. Where one is said to count, the others of the same quantity and part no longer do. */
function setColumn(header: string, change: Partial<Column>): void {
  touch(header)
  const columns = choice.value.columns.map((column) => (column.header === header ? { ...column, ...change } : column))
  const mine = columns.find((column) => column.header === header)
  if (change.tells && mine) {
    for (const [index, column] of columns.entries()) {
      const rival = column.header !== header && column.quantity === mine.quantity && column.part === mine.part
      if (rival && column.tells !== false) columns[index] = { ...column, tells: false }
    }
  }
  set({ columns })
}

const shown = computed(() =>
  props.preview.columns
    .map((seen, index) => ({ seen, index }))
    .filter(({ seen }) => showAll.value || roleOf(choice.value, seen.header) !== LEFT_OUT),
)
const hidden = computed(() => props.preview.columns.length - shown.value.length)
const cellsOf = (index: number): string =>
  props.preview.first_rows
    .slice(0, 3)
    .map((row) => row[index] || '–')
    .join('  ')
const hasPower = computed(
  () => choice.value.kind === 'telemetry' && choice.value.columns.some((column) => column.quantity === 'power'),
)
const timeSeen = computed(() => props.preview.columns.find((seen) => seen.header === choice.value.time_column))
const dated = computed(() => choice.value.time_format === 'date and time' || timeSeen.value?.asks === 'day or month')
</script>

<template>
  <div class="head">
    <strong>{{ fileName }}</strong>
    <span class="quiet"
      >{{ preview.rows }} rows.
      {{
        preview.remembered
          ? 'Read as you said last time for these columns, where this file does not speak against it.'
          : 'This is a guess; correct what is wrong.'
      }}
      {{ preview.notes.map((one) => one.text).join(' ') }}</span
    >
  </div>
  <div class="layout">
    <label
      >Separator
      <ASelect
        size="small"
        :value="choice.separator ?? undefined"
        :options="separators"
        style="width: 110px"
        @change="(value) => emit('layout', { separator: String(value), decimal: choice.decimal })"
    /></label>
    <label
      >Decimal sign
      <ASelect
        size="small"
        :value="choice.decimal ?? undefined"
        :options="decimals"
        style="width: 90px"
        @change="(value) => emit('layout', { separator: choice.separator, decimal: String(value) })"
    /></label>
    <label v-if="choice.kind === 'telemetry'"
      >Time written as
      <ASelect
        size="small"
        :value="choice.time_format ?? undefined"
        :status="choice.time_format ? '' : 'error'"
        placeholder="please choose"
        :options="options?.time_formats.map((value) => ({ value, label: value }))"
        style="width: 160px"
        @change="(value) => set({ time_format: value as LogChoice['time_format'] })"
    /></label>
    <label v-if="dated && choice.kind === 'telemetry'"
      >Dates
      <ASelect
        size="small"
        :value="choice.date_order ?? undefined"
        :status="choice.date_order ? '' : 'error'"
        placeholder="please choose"
        :options="orders"
        style="width: 120px"
        @change="(value) => set({ date_order: value as LogChoice['date_order'], time_format: 'date and time' })"
    /></label>
    <label v-if="hasPower"
      >Power read at
      <ASelect
        size="small"
        :value="choice.power_point"
        :options="points"
        style="width: 200px"
        @change="(value) => set({ power_point: value as LogChoice['power_point'] })"
    /></label>
  </div>
  <p v-if="preview.asks_tuned" class="tuned">
    <label for="which-part">Which part is tuned here?</label>
    <ASelect
      id="which-part"
      size="small"
      status="error"
      placeholder="please choose"
      :options="['graphics', 'processor'].map((value) => ({ value, label: value }))"
      style="width: 140px"
      @change="(value) => emit('layout', { separator: choice.separator, decimal: choice.decimal, tuned: String(value) })"
    />
    <span class="quiet"> The log reads both; it decides which readings are the run’s figures.</span>
  </p>
  <ul class="columns">
    <LogColumn
      v-for="{ seen, index } in shown"
      :key="seen.header"
      :seen="seen"
      :changed="touched.includes(seen.header)"
      :index="index"
      :cells="cellsOf(index)"
      :choice="choice"
      :options="options"
      :instruments="instruments"
      @role="(role) => setRole(seen.header, role)"
      @column="(change) => setColumn(seen.header, change)"
      @frame-unit="(unit) => set({ frame_unit: unit })"
    />
  </ul>
  <AButton v-if="hidden" size="small" data-test="left-out" @click="showAll = true"
    >Show {{ counted(hidden, 'column') }} left out</AButton
  >
</template>

<style scoped>
.head {
  margin: 16px 0 8px;
}
.head .quiet {
  margin-left: 8px;
}
.layout {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  margin-bottom: 8px;
  color: var(--quiet);
}
.tuned {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 8px 0;
}
.columns {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
}
</style>
