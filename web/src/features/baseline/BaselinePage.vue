<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { useBaseline } from '../../api/baseline'
import { useSayEnough } from '../../api/whatCounts'
import { useRuns, useSetAside, useTakeBack } from '../../api/runs'
import { number } from '../../ui/words/format'
import { useShortcut } from '../../composables/keys'
import QueuePanel from '../live/QueuePanel.vue'
import WhatCountsForm from '../../ui/WhatCountsForm.vue'
import KeyCap from '../../ui/KeyCap.vue'
import LoadState from '../../ui/LoadState.vue'
import OlderRuns from '../runs/OlderRuns.vue'
import { sayWithUndo } from '../../composables/sayWithUndo'
import { useStageCampaign } from '../../composables/useStageCampaign'
import BaselineWorkload from './BaselineWorkload.vue'

const REASON = 'Warm-up: the first run was out of family with the others.'

const campaign = useStageCampaign()
const { data: baseline, isPending, error, refetch } = useBaseline(() => campaign.value.id)
const { data: page } = useRuns(
  () => campaign.value.id,
  () => baseline.value?.stock_id,
)
const { mutateAsync: setAside } = useSetAside()
const { mutateAsync: takeBack } = useTakeBack()
const { mutateAsync: sayEnough } = useSayEnough()
const counting = ref(false)

const parts = computed(() =>
  (baseline.value?.workloads ?? []).map((one) => ({
    baseline: one,
    workload: campaign.value.workloads.find((workload) => workload.id === one.workload_id)!,
    runs: (page.value?.runs ?? []).filter(
      (run) => run.workload_id === one.workload_id && run.build_number === baseline.value?.build_number,
    ),
  })),
)
const stage = computed(() => campaign.value.standing?.stages.find((one) => one.name === 'Baseline'))
const suspects = computed(() => (baseline.value?.workloads ?? []).flatMap((one) => (one.suspect_id ? [one.suspect_id] : [])))

async function setSuspectsAside(): Promise<void> {
  const ids = [...suspects.value]
  if (ids.length === 0) return
  for (const id of ids) await setAside({ id, reason: REASON })
  sayWithUndo('suspects', `Set aside: ${ids.length}. They stay in the log. `, async () => {
    for (const id of ids) await takeBack(id)
  })
}
useShortcut('w', () => void setSuspectsAside())
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The baseline" @again="refetch">
    <p v-if="stage?.state === 'stale'" class="caution stale">
      Stock was measured under an earlier build. Under build {{ baseline?.present_build_number }} it has to be measured again
      before anything is compared; the earlier runs stay in the log.
    </p>
    <div class="head">
      <p class="quiet lead">
        Everything at stock, build {{ baseline?.build_number }}. Done when every workload can tell
        {{ number(campaign.wished_resolution * 100, 1) }} % apart with an 80 % chance, or when you accept it as it is.
      </p>
      <AButton v-if="suspects.length" @click="setSuspectsAside"
        >Set {{ suspects.length }} warm-up {{ suspects.length === 1 ? 'suspect' : 'suspects' }} aside <KeyCap>w</KeyCap></AButton
      >
      <AButton v-if="campaign.enough_said_at" @click="sayEnough({ campaignId: campaign.id, enough: false })">Undo</AButton>
      <AButton v-else-if="stage?.state === 'under way'" @click="sayEnough({ campaignId: campaign.id, enough: true })"
        >Accept this baseline</AButton
      >
      <AButton @click="counting = true">What counts</AButton>
    </div>
    <QueuePanel v-if="campaign.simulator" :campaign-id="campaign.id" />
    <BaselineWorkload
      v-for="part in parts"
      :key="part.workload.id"
      :baseline="part.baseline"
      :workload="part.workload"
      :runs="part.runs"
      :stock-id="baseline?.stock_id ?? 0"
      :simulator="!!campaign.simulator"
    />
    <OlderRuns v-if="page && baseline" :shown="page.runs.length" :total="page.total" :setting-id="baseline.stock_id" />
    <WhatCountsForm v-model:open="counting" :campaign="campaign" />
  </LoadState>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: start;
  gap: 8px;
  margin-bottom: 8px;
}
.lead {
  flex: 1;
  min-width: 320px;
}
.stale {
  max-width: 760px;
  margin-bottom: 8px;
}
</style>
