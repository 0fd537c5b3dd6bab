<script setup lang="ts">
import { registry } from '../../api/registry'
import { Button as AButton, Select as ASelect, Switch as ASwitch } from 'ant-design-vue'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { type Choice, useVersus, useSides } from '../../api/compare'
import { useSettings } from '../../api/settings'
import RatioChart from '../../charts/RatioChart.vue'
import LowsChart from '../../charts/LowsChart.vue'
import WhatCountsForm from '../../ui/WhatCountsForm.vue'
import LoadState from '../../ui/LoadState.vue'
import { useStageCampaign } from '../../composables/useStageCampaign'
import ClaimPanel from './ClaimPanel.vue'
import FairnessPanel from './FairnessPanel.vue'
import TargetForm from './TargetForm.vue'
import AlternativesPanel from './AlternativesPanel.vue'
import TradeOffPanel from './TradeOffPanel.vue'
import TrapsPanel from './TrapsPanel.vue'

import VersusTable from './VersusTable.vue'

const campaign = useStageCampaign()
const route = useRoute()
const router = useRouter()
const { data: settings } = useSettings(() => campaign.value.id)

const choice = computed<Choice>(() => ({
  reference: route.query.reference ? Number(route.query.reference) : undefined,
  candidates: String(route.query.candidates ?? '')
    .split(',')
    .filter(Boolean),
  holm: route.query.holm !== 'off',
  looks: route.query.looks !== 'off',
  referenceBuild: route.query.from ? Number(route.query.from) : undefined,
}))
const { data, isPending, error, refetch } = useVersus(() => campaign.value.id, choice)
const versus = computed(() => data.value?.versus)

function set(changes: Record<string, string | number | undefined>): void {
  void router.push({ query: { ...route.query, ...changes } })
}
const settingChoices = computed(() => (settings.value ?? []).map((one) => ({ value: one.id, label: one.title })))
const candidateKeys = computed(() => versus.value?.candidates.map((one) => one.key) ?? [])
const { data: sides } = useSides(() => campaign.value.id)
/** What can be compared: this campaign's own settings first, then what other campaigns and rigs ran of the same workloads. */
const sideChoices = computed(() => {
  const groups = new Map<string, { label: string; options: { value: string; label: string }[] }>()
  for (const side of sides.value ?? []) {
    const own = side.campaign_id === campaign.value.id
    const name = own ? 'This campaign' : `${side.rig_name}: ${side.campaign_name}`
    const group = groups.get(name) ?? { label: name, options: [] }
    const build = side.key.includes('@') ? `, build ${side.build_number}` : ''
    group.options.push({ value: side.key, label: `${own ? '' : `${side.rig_name}: `}${side.title}${build}` })
    groups.set(name, group)
  }
  const known = new Set((sides.value ?? []).map((side) => side.key))
  const untried = (settings.value ?? [])
    .filter((one) => !known.has(String(one.id)))
    .map((one) => ({ value: String(one.id), label: one.title }))
  return [...groups.values(), ...(untried.length ? [{ label: 'Nothing completed yet', options: untried }] : [])]
})

const plainSum = ref(false)
const lows = ref(false)
const counting = ref(false)
const targetOpen = ref(false)
const targetId = ref<number>()
function editTarget(id?: number): void {
  targetId.value = id
  targetOpen.value = true
}
const unsettled = computed(
  () =>
    // a goal of the same speed does not ask for a gain
    campaign.value.terms.least_speed == null &&
    versus.value?.candidates.some((one) => one.column.cells.some((cell) => cell.verdict?.word === 'too few runs')),
)
/** What time did to the comparisons, each sentence once. */
const inTime = computed(() => [
  ...new Set(
    (versus.value?.candidates ?? []).flatMap((one) => one.column.cells.flatMap((cell) => cell.says.map((one) => one.text))),
  ),
])
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The comparison" @again="refetch">
    <template v-if="versus">
      <div class="choose">
        <label>
          <span class="field-name">Reference</span>
          <ASelect
            :value="versus.reference_id"
            :options="settingChoices"
            show-search
            option-filter-prop="label"
            style="width: 260px"
            @change="(id) => set({ reference: Number(id) })"
          />
        </label>
        <label v-if="campaign.builds.length > 1">
          <span class="field-name">measured under build</span>
          <ASelect
            :value="versus.reference_build_number ?? undefined"
            style="width: 90px"
            :options="campaign.builds.map((build) => ({ value: build.number, label: String(build.number) }))"
            @change="(number) => set({ from: number === versus?.build_number ? undefined : Number(number) })"
          />
        </label>
        <label class="grow">
          <span class="field-name">
            Candidates, up to {{ registry.candidates
            }}<template v-if="data?.chosen_by_trelvo"> – the best by the goal, until you choose</template>
          </span>
          <ASelect
            mode="multiple"
            max-tag-count="responsive"
            :value="candidateKeys"
            :options="sideChoices"
            option-filter-prop="label"
            aria-label="Candidates"
            style="width: 100%"
            placeholder="Choose settings, from this campaign or another"
            @change="(ids) => set({ candidates: (ids as string[]).slice(-registry.candidates).join(',') || undefined })"
          />
        </label>
        <AButton @click="counting = true">What counts</AButton>
        <AButton @click="editTarget()">Add a target</AButton>
      </div>
      <p v-if="versus.candidates.length === 0" class="sheet none">
        Nothing to compare yet: a setting needs a completed run and stock one of the same workload. Climb first, or choose
        settings above.
      </p>
      <template v-else>
        <p v-if="versus.common" class="quiet common">
          All of them with {{ versus.common }}; against {{ versus.reference_title }}.
        </p>
        <ul v-if="inTime.length" class="quiet in-time" data-test="in-time">
          <li v-for="one in inTime" :key="one">{{ one }}</li>
        </ul>
        <p v-if="unsettled" class="quiet">
          Where a verdict says too few runs: line up the two settings in turns (A B B A) in one sitting. A drift then falls out of
          their comparison.
        </p>
        <VersusTable :versus="versus" :campaign="campaign" :plain-sum="plainSum" @edit-target="editTarget" />
        <div class="switches">
          <label
            ><ASwitch size="small" :checked="versus.corrected" @change="(on) => set({ holm: on ? undefined : 'off' })" /> Correct
            for several candidates and workloads at once (Holm)</label
          >
          <label
            ><ASwitch size="small" :checked="versus.careful" @change="(on) => set({ looks: on ? undefined : 'off' })" /> Stricter
            where runs were added after a first look</label
          >
          <label><ASwitch v-model:checked="lows" size="small" /> Average and lows as bars</label>
          <label
            ><ASwitch v-model:checked="plainSum" size="small" /> Plain sum of frame rates
            <span class="quiet">(misleads: the fastest title decides)</span></label
          >
        </div>
        <div class="charts">
          <section>
            <h2>Ratios to {{ versus.reference_title }}</h2>
            <RatioChart :versus="versus" :workloads="campaign.workloads" />
          </section>
          <section v-if="lows">
            <h2>Average and lows</h2>
            <LowsChart :versus="versus" :workloads="campaign.workloads" />
          </section>
        </div>
      </template>
      <AlternativesPanel v-if="campaign.goal === 'decide' || campaign.goal === 'target' || versus.targets.length > 0" />
      <TradeOffPanel />
      <div class="panels">
        <TrapsPanel :traps="data!.traps" :campaign-id="campaign.id" />
        <FairnessPanel :candidates="versus.candidates" />
        <ClaimPanel :versus="versus" :workloads="campaign.workloads" />
      </div>
      <WhatCountsForm v-model:open="counting" :campaign="campaign" />
      <TargetForm v-model:open="targetOpen" :campaign="campaign" :versus="versus" :target-id="targetId" />
    </template>
  </LoadState>
</template>

<style scoped>
.choose {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 8px 16px;
}
.grow {
  flex: 1;
  min-width: 320px;
}
.none {
  max-width: 640px;
  margin-top: 16px;
  padding: 16px;
}
.common {
  margin-top: 12px;
}
.switches {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
  margin: 12px 0;
}
.charts {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 16px;
}
.panels {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 32px;
  margin-top: 32px;
}
@media (max-width: 1000px) {
  .panels {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
