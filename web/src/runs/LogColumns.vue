<!-- The first rows of a log, and what each of its columns is taken for. -->
<script setup lang="ts">
import { Select as ASelect } from 'ant-design-vue'
import { computed } from 'vue'

import type { LogChoice, LogPreview } from '../api/logs'
import type { Schemas } from '../api/client'
import type { Instrument } from '../api/instruments'
import { readers } from './runDraft'

const points = readers([], 'power')

const props = defineProps<{
  preview: LogPreview
  fileName: string
  options: Schemas['LogOptions'] | undefined
  instruments: Instrument[]
}>()
const choice = defineModel<LogChoice>('choice', { required: true })
const emit = defineEmits<{ layout: [layout: { separator?: string | null; decimal?: string | null }]; changed: [] }>()

const LEFT_OUT = 'leave out'
const TIME = 'time'
const FRAME = 'time per frame'

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
const roles = computed(() =>
  [LEFT_OUT, TIME, FRAME, ...Object.keys(props.options?.units ?? {})].map((value) => ({ value, label: value })),
)

function roleOf(header: string): string {
  if (choice.value.kind === 'frames') return choice.value.frame_column === header ? FRAME : LEFT_OUT
  if (choice.value.time_column === header) return TIME
  return choice.value.columns.find((column) => column.header === header)?.quantity ?? LEFT_OUT
}

function setRole(header: string, role: string): void {
  const next = { ...choice.value, columns: choice.value.columns.filter((column) => column.header !== header) }
  if (next.time_column === header) next.time_column = null
  if (next.frame_column === header) next.frame_column = null
  if (role === FRAME) Object.assign(next, { kind: 'frames', frame_column: header })
  else if (role !== LEFT_OUT) {
    next.kind = 'telemetry'
    if (role === TIME) next.time_column = header
    else {
      const quantity = role as LogChoice['columns'][number]['quantity']
      next.columns.push({
        header,
        quantity,
        part: 'tuned part',
        instrument_id: null,
        unit: props.options?.units[role]?.[0] ?? '',
      })
      next.columns.sort((a, b) => props.preview.headers.indexOf(a.header) - props.preview.headers.indexOf(b.header))
    }
  }
  set(next)
}

function set(next: Partial<LogChoice>): void {
  choice.value = { ...choice.value, ...next }
  emit('changed')
}

function setUnit(header: string, unit: string): void {
  set({ columns: choice.value.columns.map((column) => (column.header === header ? { ...column, unit } : column)) })
}

function unitsOf(header: string): string[] {
  const role = roleOf(header)
  if (role === FRAME) return props.options?.frame_units ?? []
  return props.options?.units[role]?.filter((unit) => unit !== '') ?? []
}
const unitOf = (header: string): string | undefined =>
  roleOf(header) === FRAME ? choice.value.frame_unit : choice.value.columns.find((column) => column.header === header)?.unit
/** Instruments of the rig that can have read a column; asked where there is more than the usual one. */
const readersOf = (header: string) => props.instruments.filter((one) => one.quantity === roleOf(header))
const readerOf = (header: string): string =>
  String(choice.value.columns.find((column) => column.header === header)?.instrument_id ?? '')
function setReader(header: string, id: string): void {
  set({
    columns: choice.value.columns.map((column) =>
      column.header === header ? { ...column, instrument_id: id ? Number(id) : null } : column,
    ),
  })
}
const hasPower = computed(
  () => choice.value.kind === 'telemetry' && choice.value.columns.some((column) => column.quantity === 'power'),
)
</script>

<template>
  <div class="head">
    <strong>{{ fileName }}</strong>
    <span class="quiet"
      >{{ preview.rows }} rows.
      {{ preview.remembered ? 'Read as you said last time for these columns.' : 'This is a guess; correct what is wrong.' }}
      {{ preview.notes.join(' ') }}</span
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
  <div class="scroll-x">
    <table class="ledger">
      <thead>
        <tr>
          <th></th>
          <th v-for="(header, index) in preview.headers" :key="header">
            <strong class="header">{{ header }}</strong>
            <label class="visually-hidden" :for="`role-${index}`">What {{ header }} is</label>
            <label v-if="unitsOf(header).length > 1" class="visually-hidden" :for="`unit-${index}`">Unit of {{ header }}</label>
            <ASelect
              :id="`role-${index}`"
              size="small"
              :virtual="false"
              :value="roleOf(header)"
              :options="roles"
              class="role"
              @change="(value) => setRole(header, String(value))"
            />
            <ASelect
              v-if="unitsOf(header).length > 1"
              :id="`unit-${index}`"
              size="small"
              :value="unitOf(header)"
              :options="unitsOf(header).map((value) => ({ value, label: value }))"
              class="role"
              @change="
                (value) => (roleOf(header) === FRAME ? set({ frame_unit: String(value) }) : setUnit(header, String(value)))
              "
            />
            <span v-else class="quiet">{{ unitOf(header) }}</span>
            <ASelect
              v-if="readersOf(header).length > 0"
              size="small"
              :value="readerOf(header)"
              class="role"
              :aria-label="`Instrument of ${header}`"
              :options="[
                { value: '', label: 'as below' },
                ...readersOf(header).map((one) => ({ value: String(one.id), label: one.name })),
              ]"
              @change="(value) => setReader(header, String(value))"
            />
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, index) in preview.first_rows" :key="index">
          <td class="quiet figure">{{ preview.first_row_number + index }}</td>
          <td v-for="(cell, column) in row" :key="column" class="figure">{{ cell }}</td>
        </tr>
      </tbody>
    </table>
  </div>
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
.header {
  display: block;
  color: var(--ink);
  white-space: nowrap;
}
.role {
  display: block;
  min-width: 126px;
  margin: 4px 0;
}
</style>
