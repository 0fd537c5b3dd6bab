<!-- Workload by workload: the reference, every candidate, every target; then the overall row. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import type { Campaign } from '../../api/campaigns'
import type { Side, Versus } from '../../api/compare'
import GainWhisker from '../../charts/GainWhisker.vue'
import { gain, gainRange, number, plain, readByWords, signed } from '../../words/format'
import SettingSwatch from '../../parts/SettingSwatch.vue'
import TableTools from '../../parts/TableTools.vue'
import VerdictMark from '../../parts/VerdictMark.vue'
import { asMarkdown, versusRows, type VersusRow } from './versusRows'

const props = defineProps<{ versus: Versus; campaign: Campaign; plainSum: boolean }>()
defineEmits<{ editTarget: [id: number] }>()

const rows = computed(() => versusRows(props.versus, props.campaign))
const ends = computed(() => {
  const all = props.versus.candidates.flatMap(({ column }) => [column.overall, ...column.cells.map((cell) => cell.comparison)])
  const found = all.flatMap((one) => (one ? [one.low ?? one.ratio, one.high ?? one.ratio] : []))
  return { low: Math.min(1, ...found), high: Math.max(1, ...found) }
})
const axis = computed(() => {
  const margin = (ends.value.high - ends.value.low) * 0.06 || 0.01
  return { low: ends.value.low - margin, high: ends.value.high + margin }
})

const copied = ref(false)
async function copyMarkdown(): Promise<void> {
  await navigator.clipboard.writeText(asMarkdown(props.versus, rows.value))
  copied.value = true
  setTimeout(() => (copied.value = false), 2000)
}

const spread = (side: Side): string => (side.summary?.sd != null ? `± ${plain(side.summary.sd)}` : '')
const headers = [
  'workload',
  'setting',
  'mean',
  'unit',
  'runs',
  'ratio',
  'ratio low',
  'ratio high',
  'verdict',
  'power W',
  'efficiency',
  'efficiency unit',
  '°C over room',
  'note',
]
const cells = computed(() =>
  rows.value.map((row: VersusRow) => [
    row.workload,
    row.title,
    row.side?.summary?.mean ?? row.value,
    row.unit,
    row.side?.summary?.n,
    row.comparison?.ratio ?? row.ratio,
    row.comparison?.low,
    row.comparison?.high,
    row.verdict?.word,
    row.side?.power.mean_w,
    row.side?.efficiency?.amount,
    row.side?.efficiency?.unit,
    row.side?.over_room_c,
    row.note,
  ]),
)
</script>

<template>
  <div class="scroll-x">
    <table class="ledger versus">
      <thead>
        <tr>
          <th>Setting</th>
          <th class="number">Mean ± deviation</th>
          <th>Ratio, 95 % interval</th>
          <th class="axis">
            <span class="stock-word" :style="{ left: `${((1 - axis.low) / (axis.high - axis.low)) * 100}%` }">1</span>
          </th>
          <th>Verdict</th>
          <th class="number">Power</th>
          <th class="number wide">Work for energy</th>
          <th class="number">Over room</th>
          <th class="wide">What limits</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(row, index) in rows" :key="index">
          <tr v-if="row.workload !== rows[index - 1]?.workload" class="head">
            <td colspan="9">
              <strong>{{ row.workload }}</strong> <span class="quiet">{{ row.options }}</span>
            </td>
          </tr>
          <tr :class="row.kind" :title="row.sentence" :data-row="`${row.workload}, ${row.fullTitle ?? row.title}`">
            <td class="name">
              <SettingSwatch v-if="row.settingId" :setting-id="row.settingId" />
              {{ row.title }}
              <AButton v-if="row.targetId" size="small" type="text" @click="$emit('editTarget', row.targetId)">Change</AButton>
            </td>
            <td class="number figure">
              <template v-if="row.side?.summary"
                >{{ plain(row.side.summary.mean) }} <span class="quiet estimate">{{ spread(row.side) }}</span>{{ ' '
                }}<span class="quiet"
                  >{{ row.unit }}, {{ row.side.summary.n }} {{ row.side.summary.n === 1 ? 'run' : 'runs' }}</span
                ></template
              >
              <template v-else-if="row.value != null"
                >{{ plain(row.value) }} <span class="quiet">{{ row.unit }}, as told</span></template
              >
              <span v-else-if="row.kind !== 'overall'" class="quiet">not measured</span>
            </td>
            <td class="figure estimate">
              <template v-if="row.comparison">
                <strong :class="row.verdict?.word === 'gain' ? 'gain' : row.verdict?.word === 'loss' ? 'loss' : ''">{{
                  gain(row.comparison.ratio)
                }}</strong>
                <span class="quiet range">{{
                  row.comparison.low != null && row.comparison.high != null
                    ? gainRange(row.comparison.low, row.comparison.high)
                    : 'noise unknown'
                }}</span>
              </template>
              <template v-else-if="row.ratio != null"
                ><strong>{{ gain(row.ratio) }}</strong></template
              >
            </td>
            <td v-if="row.kind === 'target'" colspan="6" class="quiet">{{ row.note }}</td>
            <template v-else>
              <td class="axis"><GainWhisker v-if="row.comparison" :gain="row.comparison" :low="axis.low" :high="axis.high" /></td>
              <td><VerdictMark :verdict="row.verdict" /></td>
              <td class="number figure" :title="row.side?.power.n ? readByWords(row.side.power) : undefined">
                <template v-if="row.side?.power.mean_w != null"
                  >{{ number(row.side.power.mean_w, 0) }} <span class="quiet">W</span></template
                >
                <span v-else-if="row.side?.power.mixed" class="caution">mixed</span>
              </td>
              <td class="number figure wide">
                <template v-if="row.side?.efficiency"
                  >{{ plain(row.side.efficiency.amount) }} <span class="quiet">{{ row.side.efficiency.unit }}</span></template
                >
                <span v-if="row.efficiencyRatio != null" class="quiet estimate change"
                  >{{ signed((row.efficiencyRatio - 1) * 100, 1) }} %</span
                >
              </td>
              <td class="number figure">
                <template v-if="row.side?.over_room_c != null"
                  >{{ number(row.side.over_room_c, 0) }} <span class="quiet">°C</span></template
                >
              </td>
              <td class="wide quiet note">{{ row.note }}</td>
            </template>
          </tr>
        </template>
        <template v-if="plainSum">
          <tr class="head">
            <td colspan="9">
              <strong>Plain sum of frame rates</strong>{{ ' '
              }}<span class="caution">misleads: the fastest title decides, and a new title changes every winner</span>
            </td>
          </tr>
          <tr v-for="candidate in versus.candidates" :key="candidate.key">
            <td class="name"><SettingSwatch :setting-id="candidate.setting_id" /> {{ candidate.short }}</td>
            <template v-if="candidate.column.plain_sum">
              <td class="number figure">
                {{ plain(candidate.column.plain_sum.candidate) }}
                <span class="quiet">against {{ plain(candidate.column.plain_sum.reference) }} fps</span>
              </td>
              <td class="figure">{{ gain(candidate.column.plain_sum.ratio) }}</td>
              <td colspan="6" class="quiet">
                {{ candidate.column.plain_sum.decides }} makes {{ number(candidate.column.plain_sum.decides_share * 100, 0) }} %
                of the sum.
              </td>
            </template>
            <td v-else colspan="8" class="quiet">Needs two workloads measured as frame rates on both sides.</td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
  <p class="ways">
    <AButton size="small" type="text" @click="copyMarkdown">{{ copied ? 'Copied' : 'Copy as Markdown' }}</AButton>
    <TableTools :name="`${campaign.name} compared`" :headers="headers" :rows="cells" />
  </p>
</template>

<style scoped>
.versus .head td {
  padding-top: 14px;
  border-bottom-color: var(--quiet);
}
.name {
  min-width: 220px;
}
.change {
  margin-left: 6px;
}
.reference td,
.target td {
  color: var(--quiet);
}
.overall td {
  background: var(--wash);
}
.range {
  margin-left: 6px;
}
.axis {
  position: relative;
  width: 150px;
  min-width: 100px;
}
td.axis {
  vertical-align: middle;
}
.stock-word {
  position: absolute;
  bottom: 4px;
  transform: translateX(-50%);
}
.note {
  min-width: 110px;
  font-size: 13px;
}
.ways {
  text-align: right;
}
@media (max-width: 1100px) {
  .wide {
    display: none;
  }
  .range {
    display: block;
    margin-left: 0;
    font-size: 12px;
  }
  .name {
    min-width: 150px;
  }
  .axis {
    width: 90px;
    min-width: 70px;
  }
}
</style>
