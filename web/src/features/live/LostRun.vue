<!-- A run whose bench fell silent: what has probably happened, and one press to say so. -->
<script setup lang="ts">
import { outcomeFacts } from '../../api/registry'
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { type Live, useEndLive } from '../../api/live'
import { moment, span } from '../../ui/words/format'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import EndRun from './EndRun.vue'

const props = defineProps<{ live: Live; withLink?: boolean }>()
const { mutateAsync, isPending } = useEndLive()
const { problems, take, clear } = useProblems()
const choosing = ref(false)
const likely = computed(() => props.live.likely!)
const words = computed(() => outcomeFacts(likely.value.outcome))

async function confirm(): Promise<void> {
  clear()
  try {
    await mutateAsync({ runId: props.live.run_id, outcome: likely.value.outcome, note: `Confirmed: ${likely.value.why.text}` })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <section class="lost sheet" aria-label="Connection lost" data-test="lost-run">
    <OutcomeMark outcome="connection lost" bare :size="20" />
    <div>
      <p>
        <strong>What happened to {{ live.workload_name }} at {{ live.setting_title }}?</strong>{{ ' '
        }}<span class="quiet"
          >{{ live.bench }}, opened {{ moment(live.opened_at) }}, silent since {{ span(live.standing.elapsed_s) }} into the run.
          <template v-if="!live.simulator">If the machine comes back, the run goes on by itself.</template></span
        >
      </p>
      <p>
        Probably <OutcomeMark :outcome="likely.outcome" bare /> <strong>{{ words.short.toLowerCase() }}</strong>.
        {{ likely.why.text }}
      </p>
      <ProblemList :problems="problems" title="Not saved:" />
    </div>
    <div class="acts">
      <AButton type="primary" :loading="isPending" @click="confirm">Yes, {{ words.short.toLowerCase() }}</AButton>
      <AButton @click="choosing = true">Something else</AButton>
      <RouterLink v-if="withLink" :to="{ name: 'run', params: { id: live.run_id } }">Look at the run</RouterLink>
    </div>
    <EndRun v-model:open="choosing" :run-id="live.run_id" all />
  </section>
</template>

<style scoped>
.lost {
  display: grid;
  grid-template-columns: 24px minmax(0, 1fr) auto;
  gap: 12px;
  align-items: start;
  margin: 12px 0;
  padding: 12px 16px;
  border-left: 3px solid var(--ochre);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  justify-content: end;
}
@media (max-width: 860px) {
  .lost {
    grid-template-columns: 24px minmax(0, 1fr);
  }
  .acts {
    grid-column: 2;
    justify-content: start;
  }
}
</style>
