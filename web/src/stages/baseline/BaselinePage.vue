<script setup lang="ts">
import { computed } from 'vue'

import { useBaseline } from '../../api/baseline'
import { useRuns } from '../../api/runs'
import LoadState from '../../parts/LoadState.vue'
import { useStageCampaign } from '../useStageCampaign'
import BaselineWorkload from './BaselineWorkload.vue'

const campaign = useStageCampaign()
const { data: baseline, isPending, error, refetch } = useBaseline(() => campaign.value.id)
const { data: runs } = useRuns(() => campaign.value.id)

const parts = computed(() =>
  (baseline.value?.workloads ?? []).map((one) => ({
    baseline: one,
    workload: campaign.value.workloads.find((workload) => workload.id === one.workload_id)!,
    runs: (runs.value ?? []).filter((run) => one.runs.some((fact) => fact.id === run.id)),
  })),
)
const stale = computed(() => campaign.value.standing.stages.find((stage) => stage.name === 'Baseline')?.state === 'stale')
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The baseline" @again="refetch">
    <p v-if="stale" class="caution stale">
      Stock was measured under an earlier fitting. Under fitting {{ baseline?.present_fitting_number }} it has to be
      measured again before anything is compared; the earlier runs stay in the log.
    </p>
    <p class="quiet lead">
      Everything at stock, fitting {{ baseline?.fitting_number }}. Warm up, then run each workload three times. A run that
      is out of family, such as the first after a cold start, is set aside, not deleted.
    </p>
    <BaselineWorkload
      v-for="part in parts" :key="part.workload.id" :baseline="part.baseline" :workload="part.workload" :runs="part.runs"
      :stock-id="baseline?.stock_id ?? 0"
    />
  </LoadState>
</template>

<style scoped>
.lead,
.stale {
  max-width: 760px;
  margin-bottom: 8px;
}
</style>
