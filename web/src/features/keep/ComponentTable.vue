<!-- What each tuned part brings on top of the others, and what to do with it. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, toRef } from 'vue'

import type { Campaign } from '../../api/campaigns'
import type { KeepView } from '../../api/keep'
import { useProblems } from '../../composables/useProblems'
import { useTryOut } from '../../composables/useTryOut'
import ProblemList from '../../ui/ProblemList.vue'
import { counted } from '../../ui/words/format'
import ComponentGroups from './ComponentGroups.vue'

const props = defineProps<{ keep: KeepView; campaign: Campaign }>()
defineEmits<{ choose: [id: number] }>()
const tryOut = useTryOut(toRef(props, 'campaign'))
const { problems, take, clear } = useProblems()
const title = computed(
  () =>
    [...props.keep.candidates, props.keep.stock].find((one) => one.judged.setting_id === props.keep.chosen_id)?.judged.title ??
    'this setting',
)
type Row = KeepView['components'][number]
async function settle(row: Row): Promise<void> {
  const runs = row.decision.settle
  if (!runs) return
  clear()
  try {
    await tryOut({
      settingId: row.settle_id,
      values: runs.values,
      workloadId: props.campaign.workloads[0]?.id,
      workloadIds: props.campaign.workloads.map((one) => one.id),
      repeats: runs.runs,
    })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <section aria-label="What each part brings" data-test="components">
    <h2>What each part brings: {{ title }}</h2>
    <p v-if="keep.chosen_id === keep.stock.judged.setting_id" class="quiet">Nothing is tuned at stock.</p>
    <template v-else>
      <ul>
        <li v-for="row in keep.components" :key="row.decision.brought.component.key">
          <div>
            <strong>{{ row.part.text }}: {{ row.decision.decision }}</strong>
            <p>{{ row.decision.says.text }}</p>
            <p v-if="row.decision.brought.failures" class="quiet">
              Failed {{ counted(row.decision.brought.failures, 'time') }} as it is
              {{
                row.decision.brought.failures_alone
                  ? `, ${row.decision.brought.failures_alone} of them with nothing else turned`
                  : ', never with nothing else turned'
              }}.
            </p>
            <p v-if="row.decision.settle" class="quiet">
              Would tell: every workload {{ row.decision.settle.runs }} times at {{ row.settle_title }}.
            </p>
          </div>
          <AButton v-if="row.decision.settle" :aria-label="`Run ${row.settle_title}`" @click="settle(row)">
            {{ campaign.simulator ? 'Run it' : 'Log it' }}
          </AButton>
        </li>
      </ul>
      <ComponentGroups :components="keep.components" :campaign="campaign" />
      <p v-for="said in keep.sums_up" :key="said.text" class="quiet">{{ said.text }}</p>
      <p v-if="keep.kept_title !== title" class="left">
        Kept part by part, that is <strong>{{ keep.kept_title }}</strong>.
        <AButton v-if="keep.kept_id !== null" size="small" @click="$emit('choose', keep.kept_id!)">Look at it</AButton>
        <span v-else class="quiet">It was not run yet; run it before it is kept.</span>
      </p>
    </template>
    <ProblemList :problems="problems" title="Not done:" />
  </section>
</template>

<style scoped>
ul {
  margin: 8px 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 16px;
  justify-content: space-between;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
}
.left {
  margin-top: 8px;
}
</style>
