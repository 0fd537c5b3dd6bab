<!-- Workloads down, candidates across: the goal's own measure first, then overall, then every workload against the reference. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import type { Campaign } from '../../api/campaigns'
import type { Side, Versus } from '../../api/compare'
import { useGoal } from '../../api/goal'
import GainWhisker from '../../charts/GainWhisker.vue'
import GainFigure from '../../ui/GainFigure.vue'
import { counted, gain, number, plain, scatter, signed, wattsWords } from '../../ui/words/format'
import MeasureFigure from '../../ui/MeasureFigure.vue'
import SettingSwatch from '../../ui/SettingSwatch.vue'
import TableTools from '../../ui/TableTools.vue'
import VerdictMark from '../../ui/VerdictMark.vue'
import KeptSpeed from './KeptSpeed.vue'
import { asMarkdown, fairWords, versusRows, type VersusRow } from './versusRows'

const props = defineProps<{ versus: Versus; campaign: Campaign; plainSum: boolean }>()
defineEmits<{ editTarget: [id: number] }>()

const rows = computed(() => versusRows(props.versus, props.campaign))
const { data: goal } = useGoal(() => props.campaign.id)
const judged = (candidate: Versus['candidates'][number]) =>
  candidate.goal_applies ? goal.value?.goal.judged.find((one) => one.setting_id === candidate.setting_id) : undefined
/** The goal is always judged against stock as it is now, whatever the table is compared with. */
const goalAgainst = computed(() => {
  const { reference_is_goals, build_number, reference_build_number } = props.versus
  if (reference_is_goals) return ''
  return build_number === reference_build_number ? ', against stock' : `, against stock of build ${build_number}`
})
const targetsOf = (workload: string): VersusRow[] =>
  rows.value.filter((row) => row.kind === 'target' && row.workload === workload)
const ends = computed(() => {
  const all = props.versus.candidates.flatMap(({ column }) => [column.overall, ...column.cells.map((cell) => cell.comparison)])
  const found = all.flatMap((one) => (one ? [one.low ?? one.ratio, one.high ?? one.ratio] : []))
  return { low: Math.min(1, ...found), high: Math.max(1, ...found) }
})
const axis = computed(() => {
  const margin = (ends.value.high - ends.value.low) * 0.06 || 0.01
  return { low: ends.value.low - margin, high: ends.value.high + margin }
})

const weighted = computed(() =>
  props.campaign.workloads.some((workload) => (props.campaign.weights[String(workload.id)] ?? 1) !== 1),
)

const copied = ref(false)
async function copyMarkdown(): Promise<void> {
  await navigator.clipboard.writeText(asMarkdown(props.versus, rows.value))
  copied.value = true
  setTimeout(() => (copied.value = false), 2000)
}

/** How far its runs scatter, and how many there are. */
const runsOf = ({ summary }: Side): string =>
  summary?.sd == null ? counted(summary?.n ?? 0, 'run') : `${scatter(summary.sd, summary.mean)} in ${counted(summary.n, 'run')}`
/** What else was read: power, efficiency, degrees over room. */
const besides = (side: Side | undefined, ratio?: number | null): string => {
  if (!side) return ''
  const parts = []
  if (side.power.mean_w != null) parts.push(wattsWords(side.power))
  else if (side.power.mixed) parts.push('power read at mixed points')
  if (ratio != null) parts.push(`${signed((ratio - 1) * 100, 1)} % work for energy`)
  if (side.over_room_c != null) parts.push(`${number(side.over_room_c, 0)} °C over room`)
  return parts.join(', ')
}
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
    row.answer,
    row.side?.power.mean_w,
    row.side?.efficiency?.amount,
    row.side?.efficiency?.unit,
    row.side?.over_room_c,
    row.note,
  ]),
)

/** What each part drew, reached and ran at, where that was read of a part by name: "graphics 212 W (−18 W), 71 °C".
 *  tuned: the tuned part too, where no result is shown beside it. */
function partsOf(cell: Versus['candidates'][number]['column']['cells'][number] | undefined, tuned = false): string {
  const by = new Map<string, string[]>()
  for (const one of cell?.parts ?? []) {
    if ((one.part === 'tuned part' && !tuned) || one.candidate == null) continue
    const more = one.more == null || !one.more ? '' : ` (${signed(one.more, one.decimals)})`
    by.set(one.part, [...(by.get(one.part) ?? []), `${number(one.candidate, one.decimals)} ${one.unit}${more}`])
  }
  return [...by].map(([part, told]) => `${part === 'tuned part' ? '' : `${part} `}${told.join(', ')}`).join('; ')
}
/** What was read at the reference, where a workload gives no result there. */
function referenceReadings(index: number): string {
  const cells = props.versus.candidates.map((candidate) => candidate.column.cells[index]?.parts ?? [])
  const read = (cells[0] ?? []).filter((one) => one.reference != null)
  return read
    .map((one) => `${one.part === 'tuned part' ? '' : `${one.part} `}${number(one.reference!, one.decimals)} ${one.unit}`)
    .join(', ')
}

/** The noise that every verdict here rests on, workload by workload. */
const noiseWords = computed(() =>
  props.campaign.workloads
    .flatMap((workload) => {
      const found = props.versus.noise[workload.id]
      return found ? [`${workload.name} ${number(found.sd_log * 100, 2)} % (${counted(found.df, 'repeat')})`] : []
    })
    .join(', '),
)
</script>

<template>
  <div class="scroll-x">
    <table class="ledger versus" :style="{ '--candidates': versus.candidates.length }">
      <thead>
        <tr>
          <th class="first">Workload</th>
          <th class="reference">{{ versus.reference_title }}<span class="quiet small"> reference</span></th>
          <th v-for="candidate in versus.candidates" :key="candidate.key" class="candidate">
            <SettingSwatch :setting-id="candidate.setting_id" /> <strong>{{ candidate.short }}</strong>
            <span :class="['small', candidate.fairness.grade === 'fair' ? 'quiet' : 'caution']">{{
              fairWords(candidate, versus)
            }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr class="wash">
          <td>
            <strong>By the goal</strong>
            <span class="quiet small">{{ campaign.goal_label.toLowerCase() }}{{ goalAgainst }}</span>
          </td>
          <td></td>
          <td v-for="candidate in versus.candidates" :key="candidate.key">
            <template v-if="judged(candidate)">
              <MeasureFigure v-if="judged(candidate)!.measure" :measure="judged(candidate)!.measure!" stacked />
              {{ ' '
              }}<span
                :class="
                  judged(candidate)!.standing === 'meets it'
                    ? 'gain'
                    : judged(candidate)!.standing === 'does not'
                      ? 'warning'
                      : 'quiet'
                "
                >{{ judged(candidate)!.standing }}</span
              >
            </template>
            <span v-else class="quiet">{{
              candidate.campaign_id === campaign.id ? `judged in build ${versus.build_number} only` : 'not of this campaign'
            }}</span>
          </td>
        </tr>
        <tr class="wash">
          <td>
            <strong>Overall</strong>
            <span class="quiet small">geometric mean of ratios{{ weighted ? ', with your weights' : '' }}</span>
          </td>
          <td class="quiet">1</td>
          <td
            v-for="candidate in versus.candidates"
            :key="candidate.key"
            :title="candidate.column.overall_sentence.text"
            :data-row="`Overall, ${candidate.title}`"
          >
            <span class="visually-hidden" data-test="overall">{{ candidate.column.overall_sentence.text }}</span>
            <template v-if="candidate.column.overall">
              <span class="line"
                ><GainFigure :gain="candidate.column.overall" />
                <KeptSpeed v-if="candidate.kept_speed" :condition="candidate.kept_speed" />
                <VerdictMark v-else :verdict="candidate.column.overall_verdict"
              /></span>
              <GainWhisker :gain="candidate.column.overall" :low="axis.low" :high="axis.high" />
            </template>
            <span v-else class="quiet">not measured</span>
          </td>
        </tr>
        <template v-for="(workload, index) in campaign.workloads" :key="workload.id">
          <tr>
            <td>
              {{ workload.name }} <span class="quiet small">{{ workload.options_in_words }}</span>
            </td>
            <td class="figure">
              <template v-if="versus.reference[index]?.summary"
                >{{ plain(versus.reference[index]!.summary!.mean) }} <span class="quiet">{{ workload.unit }}</span>
                <span class="quiet small" title="the standard deviation of single runs"
                  >{{ runsOf(versus.reference[index]!)
                  }}{{ besides(versus.reference[index]) ? `, ${besides(versus.reference[index])}` : '' }}</span
                ></template
              >
              <span v-else class="quiet">{{ referenceReadings(index) || 'not measured' }}</span>
            </td>
            <td
              v-for="candidate in versus.candidates"
              :key="candidate.key"
              :title="candidate.column.cells[index]?.sentence.text"
              :data-row="`${workload.name}, ${candidate.title}`"
            >
              <template v-if="candidate.column.cells[index]?.comparison">
                <span class="line"
                  ><GainFigure :gain="candidate.column.cells[index]!.comparison" />
                  <KeptSpeed v-if="candidate.kept_speeds[index]" :condition="candidate.kept_speeds[index]!" />
                  <VerdictMark v-else :verdict="candidate.column.cells[index]!.verdict"
                /></span>
                <GainWhisker :gain="candidate.column.cells[index]!.comparison" :low="axis.low" :high="axis.high" />
                <span class="quiet small"
                  >{{ plain(candidate.column.cells[index]!.side.summary?.mean) }} {{ workload.unit }},
                  {{ counted(candidate.column.cells[index]!.side.summary?.n ?? 0, 'run')
                  }}<template v-if="besides(candidate.column.cells[index]!.side, candidate.column.cells[index]!.efficiency_ratio)"
                    >,
                    {{ besides(candidate.column.cells[index]!.side, candidate.column.cells[index]!.efficiency_ratio) }}</template
                  >
                </span>
                <span v-if="partsOf(candidate.column.cells[index]!)" class="small" data-test="parts">{{
                  partsOf(candidate.column.cells[index]!)
                }}</span>
                <span v-if="candidate.column.cells[index]!.note" class="quiet small">{{
                  candidate.column.cells[index]!.note!.text
                }}</span>
              </template>
              <span v-else-if="partsOf(candidate.column.cells[index], true)" data-test="parts">{{
                partsOf(candidate.column.cells[index], true)
              }}</span>
              <span v-else class="quiet">not measured</span>
            </td>
          </tr>
          <tr v-for="row in targetsOf(workload.name)" :key="`t${row.targetId}${workload.id}`" class="target">
            <td>
              {{ row.title }}
              <AButton size="small" type="text" @click="$emit('editTarget', row.targetId!)">Change</AButton>
            </td>
            <td class="figure">
              {{ plain(row.value) }} {{ row.unit }}
              <span class="small">{{ row.ratio != null ? gain(row.ratio) : '' }}, as reported</span>
            </td>
            <td :colspan="versus.candidates.length">{{ row.note }}</td>
          </tr>
        </template>
        <template v-if="plainSum">
          <tr>
            <td>
              <strong>Plain sum of frame rates</strong>
              <span class="caution small">misleads: the fastest title decides, and a new title changes every winner</span>
            </td>
            <td></td>
            <td v-for="candidate in versus.candidates" :key="candidate.key">
              <template v-if="candidate.column.plain_sum">
                <span class="figure">{{ gain(candidate.column.plain_sum.ratio) }}</span>
                <span class="quiet small"
                  >{{ plain(candidate.column.plain_sum.candidate) }} against
                  {{ plain(candidate.column.plain_sum.reference) }} fps; {{ candidate.column.plain_sum.decides }} makes
                  {{ number(candidate.column.plain_sum.decides_share * 100, 0) }} % of the sum.</span
                >
              </template>
              <span v-else class="quiet">Needs two workloads measured as frame rates on both sides.</span>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
  <p v-if="noiseWords" class="quiet small" data-test="noise">
    Run-to-run noise, from the repeats at every setting: {{ noiseWords }}. Every run sharpens it, at whichever setting: a close
    verdict can change when another setting is measured.
  </p>
  <p class="ways">
    <AButton size="small" type="text" @click="copyMarkdown">{{ copied ? 'Copied' : 'Copy as Markdown' }}</AButton>
    <TableTools :name="`${campaign.name} compared`" :headers="headers" :rows="cells" />
  </p>
</template>

<style scoped>
.versus {
  min-width: calc(300px + var(--candidates) * 200px);
  table-layout: fixed;
}
.first {
  width: 180px;
}
th.reference {
  width: 150px;
}
.versus th {
  vertical-align: top;
}
.versus td {
  vertical-align: top;
}
.small {
  display: block;
  font-size: 12px;
  line-height: 16px;
  white-space: normal;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  align-items: baseline;
}
.line :deep(.range) {
  margin-left: 6px;
}
.wash td {
  background: var(--wash);
}
.target td {
  color: var(--quiet);
  font-size: 13px;
}
.versus :deep(.whisker) {
  height: 16px;
  margin: 2px 0;
}
.ways {
  text-align: right;
}
@media (max-width: 1000px) {
  .first {
    width: 130px;
  }
  th.reference {
    width: 110px;
  }
}
</style>
