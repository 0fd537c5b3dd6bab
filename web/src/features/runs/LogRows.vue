<!-- The rows of a kept log, with their lines in the file; and which of them each figure of the run rests on. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { type FigureSource, ROWS, useFigureSources, useLogRows } from '../../api/logs'
import LoadState from '../../ui/LoadState.vue'
import { exact, number, reading, span } from '../../ui/words/format'

const props = defineProps<{ runId: number; seriesId: number }>()
const firstRow = ref(0)
const marked = ref<FigureSource>()
const { data: rows, isPending, error, refetch } = useLogRows(() => props.seriesId, firstRow)
const { data: sources } = useFigureSources(() => props.runId, true)
const mine = computed(() => (sources.value ?? []).filter((source) => source.series_id === props.seriesId))
const total = computed(() => rows.value?.total ?? 0)

/** A reading as it stood in the file: whole numbers whole, others with the decimals of their unit. */
const cell = (value: number | null, unit: string): string =>
  value !== null && Number.isInteger(value) ? exact(value) : reading(value, unit)

function look(source: FigureSource): void {
  marked.value = source
  firstRow.value = Math.max(source.row - 5, 0)
}
function step(by: number): void {
  firstRow.value = Math.min(Math.max(firstRow.value + by, 0), Math.max(total.value - ROWS, 0))
}
const isMarked = (row: number): boolean =>
  !!marked.value && marked.value.readings === 1 && row === marked.value.row && marked.value.series_id === props.seriesId
const where = (source: FigureSource): string => {
  const line = source.line
  const at = source.readings === 1 ? ` at ${span(source.at_s)}` : ''
  const lines = line == null ? '' : source.readings === 1 ? `, line ${line}` : `, lines ${line} to ${source.last_line ?? line}`
  return `“${source.column}”, ${source.how}${at}${lines}`
}
</script>

<template>
  <div class="rows">
    <ul v-if="mine.length" class="sources">
      <li v-for="source in mine" :key="source.name">
        {{ source.name }} <span class="figure">{{ number(source.value, source.decimals) }} {{ source.unit }}</span
        >: <span class="quiet">{{ where(source) }}.</span>
        <AButton size="small" type="link" @click="look(source)">Look at it</AButton>
      </li>
    </ul>
    <LoadState :pending="isPending" :error="error" what="The rows" @again="refetch">
      <div v-if="rows" class="scroll-x" tabindex="0" role="region" aria-label="Rows of the log">
        <table class="ledger">
          <thead>
            <tr>
              <th class="number">Line</th>
              <th class="number">Time (s)</th>
              <th v-for="(name, index) in rows.columns" :key="name" class="number">
                {{ name
                }}<template v-if="rows.units[index] && !name.includes(rows.units[index] ?? '')">
                  ({{ rows.units[index] }})</template
                >
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(values, index) in rows.values" :key="index" :class="{ marked: isMarked(rows.first_row + index) }">
              <td class="number quiet figure">{{ rows.lines[index] ?? '–' }}</td>
              <td class="number figure">{{ number(rows.time_s[index], 3) }}</td>
              <td v-for="(value, column) in values" :key="column" class="number figure">
                {{ cell(value, rows.units[column] ?? '') }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </LoadState>
    <p class="turn">
      <AButton size="small" :disabled="firstRow === 0" @click="step(-ROWS)">Earlier rows</AButton>
      <AButton size="small" :disabled="firstRow + ROWS >= total" @click="step(ROWS)">Later rows</AButton>
      <span class="quiet">rows {{ firstRow + 1 }} to {{ Math.min(firstRow + ROWS, total) }} of {{ total }}</span>
    </p>
  </div>
</template>

<style scoped>
.rows {
  margin: 12px 0;
}
.sources {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
}
.marked td {
  background: var(--wash);
  font-weight: 700;
}
.turn {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
</style>
