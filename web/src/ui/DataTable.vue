<!-- A large table: native, its columns declared once. They give sorting, filtering, hiding, copying and CSV. -->
<script setup lang="ts" generic="Row extends object">
import {
  columnFilteringFeature,
  columnVisibilityFeature,
  createFilteredRowModel,
  createSortedRowModel,
  globalFilteringFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
} from '@tanstack/vue-table'
import { Button as AButton, Checkbox as ACheckbox, Input as AInput, Popover as APopover } from 'ant-design-vue'
import { computed, useId } from 'vue'

import TableTools from './TableTools.vue'
import type { Cell } from './words/tables'
import { type Column, headOf, inOrder } from './columns'

const props = defineProps<{
  /** Of the file, and of what is copied. */
  name: string
  rows: Row[]
  columns: Column<Row>[]
  rowKey: (row: Row) => string | number
  rowClass?: (row: Row) => Record<string, unknown>
  rowAttrs?: Record<string, string>
  /** The order that the server gave the rows; a click on a head then asks for another instead of sorting here. */
  order?: { key: string; falling: boolean }
  /** The rows are one page of many: filtering and copying belong to whoever has them all. */
  paged?: boolean
}>()
const emit = defineEmits<{ order: [key: string] }>()
/** Keys of the columns that are shown; the table keeps them itself where nobody else wants to know. */
const shown = defineModel<string[]>('shown')
defineOptions({ inheritAttrs: false })

/** From so many rows on one looks for some of them. */
const MANY = 8
const features = tableFeatures({
  rowSortingFeature,
  columnVisibilityFeature,
  columnFilteringFeature,
  globalFilteringFeature,
  sortedRowModel: createSortedRowModel(),
  filteredRowModel: createFilteredRowModel(),
})
type Held = { original: Row }
const table = useTable<typeof features, Row>({
  features,
  data: computed(() => props.rows),
  columns: computed(() =>
    props.columns.map((column) => ({
      id: column.key,
      accessorFn: (row: Row) => column.value(row) ?? undefined,
      sortFn: (one: Held, other: Held) => inOrder(column.value(one.original), column.value(other.original)),
      sortUndefined: 'last' as const,
    })),
  ),
  initialState: { columnVisibility: Object.fromEntries(props.columns.map((one) => [one.key, !one.hidden && !one.onlyCopied])) },
  getRowId: (row: Row) => String(props.rowKey(row)),
  getColumnCanGlobalFilter: () => true,
  // a row is found by all its words together, whichever columns they are in
  globalFilterFn: (row: Held, _: string, words: string) => {
    const text = props.columns.map((one) => `${one.text?.(row.original) ?? ''} ${one.value(row.original) ?? ''}`).join(' ')
    return words
      .toLowerCase()
      .split(/\s+/)
      .every((word) => text.toLowerCase().includes(word))
  },
})
const shownRows = computed(() => table.getRowModel().rows.map((row) => row.original))
const isVisible = (column: Column<Row>): boolean =>
  shown.value && column.choosable !== false
    ? shown.value.includes(column.key)
    : (table.getColumn(column.key)?.getIsVisible() ?? true)
function show(column: Column<Row>, on: boolean): void {
  if (shown.value) shown.value = on ? [...shown.value, column.key] : shown.value.filter((key) => key !== column.key)
  else table.getColumn(column.key)?.toggleVisibility(on)
}
const visible = computed(() => props.columns.filter(isVisible))
const choices = computed(() => props.columns.filter((one) => one.title && !one.onlyCopied && one.choosable !== false))
function way(column: Column<Row>): 'asc' | 'desc' | undefined {
  if (!props.order) return table.getColumn(column.key)?.getIsSorted() || undefined
  if (props.order.key !== column.key) return undefined
  return props.order.falling ? 'desc' : 'asc'
}
function sort(column: Column<Row>): void {
  if (props.order) emit('order', column.key)
  else table.getColumn(column.key)?.toggleSorting()
}
const sortable = (column: Column<Row>): boolean => !!column.title && column.sortable !== false
const ARROWS = { asc: ' ↑', desc: ' ↓' } as const
const ORDERS = { asc: 'ascending', desc: 'descending' } as const
const copied = computed(() => props.columns.filter((one) => one.title && (one.onlyCopied || isVisible(one))))
const cells = computed<Cell[][]>(() => shownRows.value.map((row) => copied.value.map((column) => column.value(row))))
const filter = computed({
  get: () => (table.atoms.globalFilter.get() as string | undefined) ?? '',
  set: (words: string) => table.setGlobalFilter(words.trim() || undefined),
})
const id = useId()
</script>

<template>
  <div class="tools">
    <AInput
      v-if="!paged && rows.length >= MANY"
      :id="id"
      v-model:value="filter"
      size="small"
      allow-clear
      class="filter"
      placeholder="Filter"
      :aria-label="`Filter ${name}`"
    />
    <span v-if="filter" class="quiet small" role="status">{{ shownRows.length }} of {{ rows.length }}</span>
    <APopover v-if="choices.length > 4" trigger="click" placement="bottomRight">
      <template #content>
        <div v-for="column in choices" :key="column.key">
          <ACheckbox :checked="isVisible(column)" @change="(event) => show(column, event.target.checked)">{{
            headOf(column)
          }}</ACheckbox>
        </div>
      </template>
      <AButton size="small" type="text">Columns</AButton>
    </APopover>
    <slot name="tools" />
    <TableTools v-if="!paged" :name="name" :headers="copied.map(headOf)" :rows="cells" />
  </div>
  <div class="scroll-x" tabindex="0" role="region" :aria-label="name">
    <table class="ledger" v-bind="$attrs">
      <thead>
        <tr>
          <th
            v-for="column in visible"
            :key="column.key"
            :class="{ number: column.number }"
            :aria-sort="sortable(column) ? (way(column) ? ORDERS[way(column)!] : 'none') : undefined"
          >
            <button v-if="sortable(column)" type="button" class="plain sort" @click="sort(column)">
              {{ headOf(column) }}{{ way(column) ? ARROWS[way(column)!] : '' }}
            </button>
            <template v-else>{{ headOf(column) }}</template>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in shownRows" :key="rowKey(row)" :class="rowClass?.(row)" v-bind="rowAttrs">
          <td v-for="column in visible" :key="column.key" :class="column.number ? 'number figure' : { words: column.title }">
            <slot :name="column.key" :row="row">{{ column.text?.(row) ?? column.value(row) ?? (column.title ? '–' : '') }}</slot>
          </td>
        </tr>
        <tr v-if="shownRows.length === 0">
          <td :colspan="visible.length" class="quiet">{{ filter ? 'No row has these words.' : 'Nothing yet.' }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  justify-content: flex-end;
}
/* no word is cut in the middle: a table too wide for the screen scrolls */
td {
  overflow-wrap: normal;
}
.words {
  min-width: 112px;
}
.filter {
  width: 200px;
  margin-right: auto;
}
.sort:hover {
  text-decoration: underline;
}
</style>
