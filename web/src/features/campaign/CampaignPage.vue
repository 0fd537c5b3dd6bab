<!-- The frame of a campaign: where am I, what did I gain, what do I do next; and the way to every stage. -->
<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { Button as AButton } from 'ant-design-vue'
import { onBeforeUnmount, useTemplateRef, watchEffect } from 'vue'
import { RouterLink, RouterView, useRouter } from 'vue-router'

import { useQueueResults } from '../../api/live'
import { useCampaignFrame } from '../../composables/useCampaignFrame'
import KeyCap from '../../ui/KeyCap.vue'
import LoadState from '../../ui/LoadState.vue'
import StartLive from '../live/StartLive.vue'
import RunForm from '../runs/RunForm.vue'
import MeasureFigure from '../../ui/MeasureFigure.vue'
import { useUnderWay } from '../../composables/useUnderWay'
import NextRow from './NextRow.vue'
import { stageKeys } from './stageRoutes'
import StageSpine from './StageSpine.vue'

const props = defineProps<{ id: number }>()
const router = useRouter()
const next = useTemplateRef('next')
const {
  data: campaign,
  isPending,
  error,
  refetch,
  formOpen,
  formPreset,
  openForm,
  liveOpen,
  livePreset,
  openLive,
  lineExample,
} = useCampaignFrame(() => props.id, next)

/** Who stays a moment has the other stages' code fetched meanwhile, so that a click on one only asks for its answer. */
const ahead = useTimeoutFn(() => {
  for (const stage of Object.keys(stageKeys)) {
    const component = router.resolve({ name: stage, params: { id: props.id } }).matched.at(-1)?.components?.default
    // where that fails it is asked for again once it is wanted
    if (typeof component === 'function') (component as () => Promise<unknown>)().catch(() => undefined)
  }
}, 2_000)
onBeforeUnmount(ahead.stop)
const underWay = useUnderWay(() => props.id)
useQueueResults(() => props.id)
/** What goes on shows in the tab, too: a bench is often looked at from another window. */
watchEffect(() => {
  const name = campaign.value?.name
  document.title = name ? `${underWay.value ? 'Running: ' : ''}${name} – Trelvo` : 'Trelvo'
})
onBeforeUnmount(() => (document.title = 'Trelvo'))
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The campaign" @again="refetch">
    <template v-if="campaign">
      <header class="head">
        <div class="title">
          <h1>{{ campaign.name }}</h1>
          <RouterLink
            :to="{ name: 'Prepare', params: { id }, hash: '#goal' }"
            class="quiet words"
            data-test="goal"
            :title="campaign.goal_words?.text"
            >{{ campaign.goal_words?.text }}</RouterLink
          >
          <span class="more">
            <RouterLink class="evening" :to="{ name: 'Lab', params: { id } }">Lab <KeyCap>i</KeyCap></RouterLink>
            <RouterLink class="evening" :to="{ name: 'Tonight', params: { id } }">Tonight <KeyCap>e</KeyCap></RouterLink>
            <AButton v-if="campaign.simulator" size="small" @click="openLive()">Run on the simulator <KeyCap>l</KeyCap></AButton>
            <AButton size="small" @click="openForm()">Log a run <KeyCap>n</KeyCap></AButton>
          </span>
        </div>
        <p class="best">
          <strong>{{ campaign.goal_far?.text }}</strong>
          <template v-if="campaign.best">
            <span class="quiet">Best so far</span>
            <MeasureFigure
              v-if="campaign.best.measure.unit !== 'of'"
              :measure="campaign.best.measure"
              :drawn="campaign.best.drawn"
            />
            <span>{{ campaign.best.title }}</span>
            <span :class="campaign.best.standing === 'meets it' ? 'gain' : 'quiet'">{{ campaign.best.standing }}</span>
          </template>
        </p>
        <StageSpine v-if="campaign.standing" :stages="campaign.standing.stages" :campaign-id="id" :current="campaign.current" />
        <NextRow ref="next" :example="lineExample" />
      </header>
      <div class="stage"><RouterView /></div>
      <StartLive v-model:open="liveOpen" :campaign="campaign" :preset="livePreset" />
      <RunForm v-model:open="formOpen" :campaign="campaign" :preset="formPreset" />
    </template>
  </LoadState>
</template>

<style scoped>
.title {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 4px 16px;
  align-items: baseline;
}
.words {
  overflow: hidden;
  text-decoration: none;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.more {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.evening {
  padding: 0 8px;
  color: var(--ink);
  white-space: nowrap;
}
.best {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  align-items: baseline;
  margin-bottom: 2px;
}
.stage {
  margin-top: 12px;
}
@media (max-width: 1000px) {
  .title {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .words {
    grid-column: 1 / -1;
    grid-row: 2;
    white-space: normal;
  }
}
@media (max-width: 620px) {
  .title {
    grid-template-columns: minmax(0, 1fr);
  }
  .words {
    grid-row: auto;
  }
  .more {
    flex-wrap: wrap;
  }
}
</style>
