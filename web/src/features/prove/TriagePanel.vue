<!-- After a failure: what to do, in order, each step one click away. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { toRef } from 'vue'
import { RouterLink } from 'vue-router'

import type { Campaign } from '../../api/campaigns'
import { type Triage, useTriage } from '../../api/proof'
import { capital, number } from '../../ui/words/format'
import LoadState from '../../ui/LoadState.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import { useTryOut } from '../../composables/useTryOut'

const props = defineProps<{ campaign: Campaign; runId: number }>()
const { data: triage, isPending, error, refetch } = useTriage(() => props.runId)
const tryOut = useTryOut(toRef(props, 'campaign'))
const { problems, take, clear } = useProblems()

async function follow(one: Triage['steps'][number]): Promise<void> {
  clear()
  try {
    await tryOut({
      settingId: one.setting_id,
      values: one.step.values ?? {},
      workloadId: triage.value?.workload_id,
      minutes: one.step.minutes,
    })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <section class="sheet triage" aria-label="After the failure" data-test="triage">
    <LoadState :pending="isPending" :error="error" what="The advice after this failure" @again="refetch">
      <template v-if="triage">
        <h2>{{ triage.title }} failed: what to do, in this order</h2>
        <p class="quiet">
          {{ capital(triage.meaning) }}.
          <RouterLink :to="{ name: 'run', params: { id: triage.run_id } }">Open the run</RouterLink>; set it aside there when
          something else was to blame.
        </p>
        <ol>
          <li v-for="one in triage.steps" :key="one.step.key">
            <div>
              <strong>{{ one.step.title.text }}</strong>
              <p class="quiet">{{ one.step.why.text }}</p>
              <p v-if="one.step.values" class="small">{{ one.setting_title }}</p>
            </div>
            <AButton v-if="one.step.values" :aria-label="`Run ${one.setting_title}`" @click="follow(one)">
              {{ campaign.simulator ? 'Run it' : 'Log it' }}, {{ number(one.step.minutes, 0) }} min
            </AButton>
          </li>
        </ol>
        <ProblemList :problems="problems" title="Not done:" />
      </template>
    </LoadState>
  </section>
</template>

<style scoped>
.triage {
  margin-bottom: 16px;
  padding: 12px 16px;
  border-left: 3px solid var(--orange);
}
ol {
  display: grid;
  gap: 8px;
  margin: 8px 0 0;
  padding-left: 20px;
}
li > * {
  vertical-align: top;
}
li {
  padding-left: 4px;
}
li div {
  display: inline-block;
  width: calc(100% - 150px);
}
li :deep(.ant-btn) {
  margin-left: 8px;
}
@media (max-width: 1000px) {
  li div {
    display: block;
    width: auto;
  }
  li :deep(.ant-btn) {
    margin: 4px 0 0;
  }
}
</style>
