<!-- One setting in full: what it is worth by the goal, each condition, how it holds, and every workload against stock. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import type { ClimbView } from '../../api/climb'
import { useVersus } from '../../api/compare'
import { useGoal } from '../../api/goal'
import { useStageCampaign } from '../../composables/useStageCampaign'
import GainFigure from '../../ui/GainFigure.vue'
import LoadState from '../../ui/LoadState.vue'
import MeasureFigure from '../../ui/MeasureFigure.vue'
import { chance, hoursWords, number, often, plain, wattsWords } from '../../ui/words/format'

const props = defineProps<{ settingId: number; title: string; climb: ClimbView; value: number; isStock: boolean }>()
defineEmits<{ close: []; live: []; log: [] }>()
const campaign = useStageCampaign()
const { data: goal } = useGoal(() => campaign.value.id)
const { data, isPending, error, refetch } = useVersus(
  () => campaign.value.id,
  () => ({ reference: undefined, candidates: [String(props.settingId)], holm: false, looks: true, referenceBuild: undefined }),
)
const judged = computed(() => goal.value?.goal.judged.find((one) => one.setting_id === props.settingId))
const point = computed(() => props.climb.curve.find((one) => one.value === props.value))
const rows = computed(() => {
  const versus = data.value?.versus
  const column = versus?.candidates[0]?.column
  if (!versus || (!props.isStock && !column)) return []
  return campaign.value.workloads.map((workload, index) => ({
    workload,
    side: props.isStock ? versus.reference[index] : column?.cells[index]?.side,
    cell: props.isStock ? undefined : column?.cells[index],
  }))
})
/** The goal's condition states how sure one is; beside it the climb's own words stand only where the goal asks for no stability. */
const said = computed(() => judged.value?.conditions.some((one) => one.key === 'stability'))
const MARK = { shown: '✓', 'not shown yet': '…', broken: '✗' } as const
</script>

<template>
  <section aria-label="Setting" data-test="setting-panel">
    <div class="head">
      <h2>{{ title }}</h2>
      <AButton size="small" type="text" @click="$emit('close')">Back to the advice</AButton>
    </div>
    <p v-if="judged" class="goal">
      <MeasureFigure v-if="judged.measure" :measure="judged.measure" />
      <strong :class="judged.standing === 'meets it' ? 'gain' : judged.standing === 'does not' ? 'warning' : 'quiet'">
        {{
          judged.standing === 'stock'
            ? 'the reference'
            : `${judged.standing}${judged.standing === 'does not' ? ' meet the goal' : ''}`
        }}
      </strong>
    </p>
    <ul v-if="judged?.conditions.length" class="conditions" aria-label="Conditions of the goal">
      <li v-for="one in judged.conditions" :key="one.name.text" :class="one.state.split(' ')[0]">
        <span class="mark" role="img" :aria-label="one.state">{{ MARK[one.state] }}</span>
        <span
          >{{ one.name.text }}: {{ one.state }}. <span class="quiet">{{ one.says.text }}</span></span
        >
      </li>
    </ul>
    <p v-if="point && !isStock && !said">
      <span class="quiet">Stability:</span>{{ ' ' }} <span class="figure estimate">{{ chance(point.holds) }}</span> sure of at
      most one failure in {{ hoursWords(1 / climb.accepted_per_h) }}; most likely
      <span class="figure estimate">{{ often(point.per_h) }}</span>.
    </p>
    <LoadState :pending="isPending" :error="error" what="Its results" @again="refetch">
      <div class="scroll-x" tabindex="0" role="region" aria-label="Its results">
        <table class="ledger">
          <thead>
            <tr>
              <th>Workload</th>
              <th class="number">Result</th>
              <th v-if="!isStock">Against stock</th>
              <th class="number">1 % low</th>
              <th class="number">Power</th>
              <th class="number">Highest</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.workload.id">
              <td>
                {{ row.workload.name }}
                <span v-if="row.cell?.note" class="quiet note">{{ row.cell.note.text }}</span>
              </td>
              <td class="figure number">
                {{ row.side?.summary ? `${plain(row.side.summary.mean)} ${row.workload.unit}` : '–' }}
              </td>
              <td v-if="!isStock"><GainFigure :gain="row.cell?.comparison" stacked /></td>
              <td class="figure number">{{ row.side?.low_1_fps != null ? plain(row.side.low_1_fps) : '–' }}</td>
              <td class="figure number">{{ row.side ? wattsWords(row.side.power) : '–' }}</td>
              <td class="figure number">{{ row.side?.temp_max_c != null ? `${number(row.side.temp_max_c, 1)} °C` : '–' }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </LoadState>
    <div class="acts">
      <AButton v-if="campaign.simulator" type="primary" @click="$emit('live')">Run it on the simulator</AButton>
      <AButton :type="campaign.simulator ? 'default' : 'primary'" @click="$emit('log')">Log a run here</AButton>
      <RouterLink :to="{ name: 'Prove', params: { id: campaign.id }, query: { setting: settingId } }">Its proof</RouterLink>
      <RouterLink :to="{ name: 'Compare', params: { id: campaign.id }, query: { candidates: settingId } }">Compare it</RouterLink>
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
.head {
  display: flex;
  gap: 12px;
  align-items: baseline;
  justify-content: space-between;
}
.goal {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
}
.conditions {
  display: grid;
  gap: 2px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.conditions li {
  display: grid;
  grid-template-columns: 16px 1fr;
  gap: 0 6px;
  align-items: baseline;
}
.mark {
  font-weight: 700;
}
.shown .mark {
  color: var(--petrol);
}
.not .mark {
  color: var(--ochre);
}
.broken .mark {
  color: var(--orange);
}
table {
  font-size: 13px;
}
table.ledger th {
  overflow-wrap: normal;
  white-space: nowrap;
}
table.ledger td,
table.ledger th {
  padding-inline: 4px;
}
.note {
  display: block;
  font-size: 12px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
}
</style>
