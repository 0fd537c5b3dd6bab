<!-- What the simulator works through: progress, pause, cancel; what came of each. -->
<script setup lang="ts">
import { Button as AButton, Progress as AProgress } from 'ant-design-vue'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { type QueueAct, useQueue, useQueueAct } from '../../api/live'
import type { Outcome } from '../../api/runs'
import { span } from '../../ui/words/format'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import { colours } from '../../composables/theme'

const props = defineProps<{ campaignId: number }>()
const { data: queue } = useQueue(() => props.campaignId)
const { mutateAsync } = useQueueAct()
const { problems, take, clear } = useProblems()
const open = ref(false)

const running = computed(() => queue.value?.items.find((item) => item.state === 'running'))
const leftOut = computed(() => queue.value?.items.filter((item) => item.state === 'left out').length ?? 0)
const total = computed(() => queue.value?.items.length ?? 0)
const share = computed(() =>
  total.value ? (100 * (total.value - (queue.value?.waiting ?? 0) - (running.value ? 1 : 0))) / total.value : 0,
)

async function act(what: QueueAct): Promise<void> {
  clear()
  try {
    await mutateAsync({ campaignId: props.campaignId, act: what })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <section v-if="queue && total" class="queue sheet" aria-label="Queue" data-test="queue">
    <div class="head">
      <strong>Queue</strong>
      <AProgress
        :percent="share"
        :show-info="false"
        size="small"
        class="bar"
        :stroke-color="colours.petrol"
        :trail-color="colours.rule"
        aria-label="Part of the queue that is done"
      />
      <span role="status">
        {{ queue.done }} of {{ total }} done<template v-if="leftOut">, {{ leftOut }} left out</template
        ><template v-if="queue.left_s != null">, about {{ span(queue.left_s) }} left</template>.
        <template v-if="running"
          >Now
          <RouterLink v-if="running.run_id" :to="{ name: 'run', params: { id: running.run_id } }"
            >{{ running.workload_name }} at {{ running.setting_title }}</RouterLink
          >.</template
        >
        <span v-if="queue.paused && queue.waiting" class="caution">Paused.</span>
      </span>
      <span class="acts">
        <template v-if="queue.waiting">
          <AButton v-if="queue.paused" size="small" type="primary" @click="act('resume')">Go on</AButton>
          <AButton v-else size="small" @click="act('pause')">Pause after this run</AButton>
          <AButton size="small" @click="act('cancel')">Cancel the rest</AButton>
        </template>
        <AButton size="small" type="text" :aria-expanded="open" @click="open = !open">{{ open ? 'Hide' : 'Show all' }}</AButton>
      </span>
    </div>
    <ProblemList :problems="problems" title="Not done:" />
    <div v-if="open" class="items">
      <table class="ledger">
        <tbody>
          <tr v-for="item in queue.items" :key="item.id">
            <td>{{ item.setting_title }}</td>
            <td>{{ item.workload_name }}</td>
            <td>
              <OutcomeMark v-if="item.outcome" :outcome="item.outcome as Outcome" /> {{ item.outcome || item.state }}
              <span class="quiet">{{ item.why }}</span>
            </td>
            <td class="number">
              <RouterLink v-if="item.run_id" :to="{ name: 'run', params: { id: item.run_id } }">Open</RouterLink>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.queue {
  margin-bottom: 12px;
  padding: 8px 16px;
}
.head {
  display: grid;
  grid-template-columns: auto 160px minmax(0, 1fr) auto;
  gap: 16px;
  align-items: center;
}
.bar {
  margin: 0;
}
.items {
  max-height: 280px;
  margin-top: 8px;
  overflow-y: auto;
}
@media (max-width: 1000px) {
  .head {
    grid-template-columns: auto minmax(0, 1fr);
  }
}
</style>
