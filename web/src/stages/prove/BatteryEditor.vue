<!-- What a setting is proved with besides the campaign's own workloads. -->
<script setup lang="ts">
import { Button as AButton, message } from 'ant-design-vue'
import { computed, ref } from 'vue'

import type { Campaign } from '../../api/campaigns'
import type { Schemas } from '../../api/client'
import { useSetBattery } from '../../api/proof'
import { useRigs } from '../../api/rigs'
import type { WorkloadDraft } from '../../campaigns/drafts'
import WorkloadEditor from '../../campaigns/WorkloadEditor.vue'
import ManyField from '../../parts/ManyField.vue'
import ProblemList from '../../parts/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import { useFollowing } from '../../composables/useFollowing'

const props = defineProps<{ campaign: Campaign }>()
const { data: rigs } = useRigs()
const { mutateAsync, isPending } = useSetBattery()
const { problems, take, clear, at } = useProblems()
const chosen = ref<number[]>([])
const added = ref<WorkloadDraft[]>([])

const own = computed(() => new Set(props.campaign.workloads.map((one) => one.id)))
const choices = computed(() =>
  (rigs.value?.find((rig) => rig.id === props.campaign.rig_id)?.workloads ?? [])
    .filter((one) => !own.value.has(one.id))
    .map((one) => ({ value: one.id, label: one.name })),
)
const startAgain = useFollowing(() => props.campaign.battery, () => [chosen.value, added.value], (battery) => (chosen.value = battery.map((one) => one.id)))

async function save(): Promise<void> {
  clear()
  try {
    const body = { workload_ids: chosen.value, workloads: added.value as Schemas['WorkloadIn'][] }
    await mutateAsync({ campaignId: props.campaign.id, body })
    added.value = []
    startAgain()
    void message.success('The battery is kept.')
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <details class="battery" data-test="battery">
    <summary>Battery: what you prove with besides your {{ campaign.workloads.length }} workloads ({{ campaign.battery.map((one) => one.name).join(', ') || 'nothing yet' }})</summary>
    <form class="form" @submit.prevent="save">
      <ManyField v-model="chosen" label="Of this rig" :options="choices" hint="workloads that other campaigns of this rig use" />
      <WorkloadEditor v-model="added" :at="at" />
      <ProblemList :problems="problems" title="Not kept:" />
      <AButton html-type="submit" :loading="isPending">Keep the battery</AButton>
    </form>
  </details>
</template>

<style scoped>
.battery {
  margin-top: 16px;
}
summary {
  cursor: pointer;
}
.form {
  display: grid;
  gap: 12px;
  justify-items: start;
  margin-top: 8px;
}
.form > :deep(*) {
  max-width: 100%;
}
.form > :first-child {
  width: 480px;
}
</style>
