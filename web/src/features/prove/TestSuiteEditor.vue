<!-- What a setting is proved with besides the campaign's own workloads. -->
<script setup lang="ts">
import { Button as AButton, message } from 'ant-design-vue'
import { computed, ref } from 'vue'

import type { Campaign } from '../../api/campaigns'
import { useSetTestSuite } from '../../api/proof'
import { useWorkloads } from '../../api/rigs'
import { asWorkloadIn, type WorkloadDraft } from '../campaigns/drafts'
import WorkloadEditor from '../campaigns/WorkloadEditor.vue'
import ManyField from '../../ui/ManyField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import { useFollowing } from '../../composables/useFollowing'
import TermWord from '../../ui/TermWord.vue'

const props = defineProps<{ campaign: Campaign }>()
const { data: workloads } = useWorkloads()
const { mutateAsync, isPending } = useSetTestSuite()
const { problems, take, clear, at } = useProblems()
const chosen = ref<number[]>([])
const added = ref<WorkloadDraft[]>([])

const own = computed(() => new Set(props.campaign.workloads.map((one) => one.id)))
const choices = computed(() =>
  (workloads.value ?? []).filter((one) => !own.value.has(one.id)).map((one) => ({ value: one.id, label: one.title })),
)
const startAgain = useFollowing(
  () => props.campaign.test_suite,
  () => [chosen.value, added.value],
  (testSuite) => (chosen.value = testSuite.map((one) => one.id)),
)

async function save(): Promise<void> {
  clear()
  try {
    const body = { workload_ids: chosen.value, workloads: added.value.map(asWorkloadIn) }
    await mutateAsync({ campaignId: props.campaign.id, body })
    added.value = []
    startAgain()
    void message.success('Test suite saved.')
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <details class="test-suite" data-test="test-suite">
    <summary>
      <TermWord term="Test suite" />: what you prove with besides your {{ campaign.workloads.length }} workloads ({{
        campaign.test_suite.map((one) => one.name).join(', ') || 'nothing yet'
      }})
    </summary>
    <form class="form" @submit.prevent="save">
      <ManyField v-model="chosen" label="Workloads already there" :options="choices" hint="from this rig or another" />
      <WorkloadEditor v-model="added" :at="at" />
      <ProblemList :problems="problems" title="Not saved:" />
      <AButton html-type="submit" :loading="isPending">Save the test suite</AButton>
    </form>
  </details>
</template>

<style scoped>
.test-suite {
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
  width: min(480px, 100%);
}
</style>
