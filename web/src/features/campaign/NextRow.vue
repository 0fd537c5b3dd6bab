<!-- The one step that comes next, the same words on every stage; what could be done instead; `q` turns it into the quick line. -->
<script setup lang="ts">
import { Button as AButton, message } from 'ant-design-vue'
import { until } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'

import { useCampaign } from '../../api/campaigns'
import type { Task } from '../../api/goal'
import { taskButton, useDoTask } from '../../composables/useDoTask'
import { useShortcut } from '../../composables/keys'
import { useProblems } from '../../composables/useProblems'
import { useStageCampaign } from '../../composables/useStageCampaign'
import { useUnderWay } from '../../composables/useUnderWay'
import { glued } from '../../ui/words/format'
import KeyCap from '../../ui/KeyCap.vue'
import ProblemList from '../../ui/ProblemList.vue'
import QuickLine from './QuickLine.vue'

const props = defineProps<{ example: string }>()
const campaign = useStageCampaign()
const { isFetching } = useCampaign(() => campaign.value.id)
const doTask = useDoTask()
const { problems, take, clear } = useProblems()
const quick = useTemplateRef('quick')
const typing = ref(false)
const others = ref(false)
const busy = ref(false)
const next = computed(() => campaign.value.next)
/** While a run of this campaign goes on, its end decides what comes next: nothing is begun beside it. */
const underWay = useUnderWay(() => campaign.value.id)

async function follow(task: Task): Promise<void> {
  if (busy.value) return
  if (underWay.value && task.act !== 'answer' && task.act !== 'describe') return void message.info(`Not begun: ${underWay.value}`)
  // a step that is being computed again may be about to change: nothing is begun that was not on the screen
  const shown = task.id
  busy.value = true
  clear()
  try {
    await until(isFetching).toBe(false)
    const now = [next.value?.step, ...(next.value?.instead ?? [])].find((one) => one?.id === shown)
    if (!now) return void message.info('The next step has just changed. Look again, then press once more.')
    await doTask(now)
  } catch (trouble) {
    take(trouble)
  } finally {
    busy.value = false
  }
}
async function begin(line?: string): Promise<void> {
  typing.value = true
  await quick.value?.begin(line)
}
defineExpose({ begin })
useShortcut('a', () => void (next.value && follow(next.value.step)))
useShortcut('q', () => void begin())
useShortcut('o', () => (others.value = !others.value))
</script>

<template>
  <section class="next" aria-label="What to do next" data-test="next">
    <QuickLine
      v-show="typing"
      ref="quick"
      class="line"
      :campaign-id="campaign.id"
      :example="props.example"
      @close="typing = false"
    />
    <div v-show="!typing" class="row">
      <span class="word">Next</span>
      <p v-if="underWay" class="task" role="status" data-test="under-way">
        <strong>{{ underWay }}</strong> <span class="quiet why">What comes next is said when it has ended.</span>
      </p>
      <p v-else-if="next" class="task">
        <strong data-test="next-title">{{ next.step.title.text }}</strong>{{ ' ' }}
        <span class="quiet why">{{ glued(next.step.why.text) }}</span>
      </p>
      <p v-else class="task warning">{{ campaign.trouble?.text }}</p>
      <span class="acts">
        <AButton v-if="next && !underWay" type="primary" :loading="busy" @click="follow(next.step)"
          >{{ taskButton(next.step, campaign) }} <KeyCap>a</KeyCap></AButton
        >
        <AButton v-if="next?.instead.length" type="text" :aria-expanded="others" @click="others = !others"
          >or instead <KeyCap>o</KeyCap></AButton
        >
        <AButton type="text" @click="begin()">Quick line <KeyCap>q</KeyCap></AButton>
      </span>
    </div>
    <ul v-if="others && next && !typing" class="others">
      <li v-for="task in next.instead" :key="task.id">
        <AButton size="small" @click="follow(task)">{{ taskButton(task, campaign) }}</AButton>
        <span
          >{{ task.title.text }} <span class="quiet">{{ glued(task.why.text) }}</span></span
        >
      </li>
    </ul>
    <ProblemList :problems="problems" title="Not done:" />
  </section>
</template>

<style scoped>
.next {
  margin-top: 8px;
  padding: 6px 12px;
  border: 1px solid var(--petrol);
  border-radius: 3px;
  background: var(--sheet);
}
.row {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 12px;
  align-items: center;
}
.word {
  color: var(--petrol);
  font-weight: 700;
}
.task {
  display: -webkit-box;
  overflow: hidden;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
}
.acts {
  display: flex;
  gap: 4px;
  align-items: center;
}
.others {
  display: grid;
  gap: 6px;
  margin: 8px 0 2px;
  padding: 8px 0 0 52px;
  border-top: 1px solid var(--rule);
  list-style: none;
}
.others li {
  display: flex;
  gap: 12px;
  align-items: baseline;
}
@media (max-width: 1000px) {
  .row {
    grid-template-columns: auto minmax(0, 1fr);
  }
  .acts {
    grid-column: 1 / -1;
  }
}
</style>
