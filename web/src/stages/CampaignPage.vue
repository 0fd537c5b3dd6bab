<!-- The frame of a campaign: where am I, what did I gain, what do I do next; and the way to every stage. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, onMounted, provide, ref, useTemplateRef, watchEffect } from 'vue'
import { RouterLink, RouterView, useRouter } from 'vue-router'

import { useCampaign } from '../api/campaigns'
import { number } from '../words/format'
import { useShortcut } from '../composables/keys'
import GainFigure from '../parts/GainFigure.vue'
import KeyCap from '../parts/KeyCap.vue'
import LoadState from '../parts/LoadState.vue'
import StartLive from '../live/StartLive.vue'
import RunForm from '../runs/RunForm.vue'
import QuickLine from './QuickLine.vue'
import { stageKeys } from './stageRoutes'
import StageSpine from './StageSpine.vue'
import { beginLineKey, campaignKey, openLiveKey, openRunFormKey, type Preset } from '../composables/useStageCampaign'

const props = defineProps<{ id: number }>()
const router = useRouter()
const { data: campaign, isPending, error, refetch } = useCampaign(() => props.id)
provide(
  campaignKey,
  computed(() => campaign.value!),
)

const formOpen = ref(false)
const preset = ref<Preset>({})
function openForm(chosen: Preset = {}): void {
  preset.value = chosen
  formOpen.value = true
}
provide(openRunFormKey, openForm)
const quick = useTemplateRef('quick')
provide(beginLineKey, (line) => void quick.value?.begin(line))

const liveOpen = ref(false)
const livePreset = ref<Preset>({})
function openLive(chosen: Preset = {}): void {
  if (!campaign.value?.standin) return
  livePreset.value = chosen
  liveOpen.value = true
}
provide(openLiveKey, openLive)

for (const [stage, key] of Object.entries(stageKeys))
  useShortcut(key, () => router.push({ name: stage, params: { id: props.id } }))
useShortcut('n', () => openForm())
useShortcut('l', () => openLive())
/** The other stages' code is fetched while nothing else is to be done, so that a click on one only asks for its answer. */
onMounted(() => {
  const later = window.requestIdleCallback ?? ((task: () => void) => setTimeout(task, 300))
  later(() => {
    for (const stage of Object.keys(stageKeys)) {
      const component = router.resolve({ name: stage, params: { id: props.id } }).matched.at(-1)?.components?.default
      if (typeof component === 'function') void (component as () => Promise<unknown>)()
    }
  })
})
watchEffect(() => (document.title = campaign.value ? `${campaign.value.name} – Trelvo` : 'Trelvo'))

/** In the campaign's own words, so that it can be typed as it stands. */
const lineExample = computed(() => {
  const knob = campaign.value?.knobs[0]
  const workload = campaign.value?.workloads[0]
  if (!knob || !workload) return ''
  const up = knob.stock + knob.step * knob.away
  const value = knob.stock === 0 && up > 0 ? `+${up}` : String(up)
  return `${knob.key} ${value} ${workload.name.toLowerCase().split(' ')[0]} 98,4 72c 212w ok`
})
const here = computed(() => campaign.value?.standing?.stages.find((stage) => stage.name === campaign.value?.standing?.current))
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The campaign" @again="refetch">
    <template v-if="campaign">
      <p class="path quiet">
        <RouterLink :to="{ name: 'campaigns' }">Campaigns</RouterLink> / {{ campaign.rig_name }} / {{ campaign.goal_label }}
      </p>
      <div class="page-head">
        <h1>{{ campaign.name }}</h1>
        <a :href="`/api/campaigns/${id}/export.json`" download>Campaign file</a>
        <a :href="`/api/campaigns/${id}/runs.csv`" download>Runs as CSV</a>
      </div>
      <p v-if="campaign.aim" class="quiet">{{ campaign.aim }}</p>
      <section class="answers" aria-label="At a glance">
        <div>
          <span class="field-name">Where you are</span>
          <template v-if="here"
            ><strong>{{ here.name }}</strong
            >, {{ here.state }}. {{ here.note }}</template
          >
          <span v-else class="warning">{{ campaign.trouble }}</span>
        </div>
        <div>
          <span class="field-name">Best so far</span>
          <template v-if="campaign.best">
            <GainFigure :gain="campaign.best.gain" :drawn="campaign.best.drawn" />
            <span class="line">
              on {{ campaign.best.workload
              }}<template v-if="campaign.best.watts_saved != null">
                for {{ number(Math.abs(campaign.best.watts_saved), 0) }} W
                {{ campaign.best.watts_saved >= 0 ? 'less' : 'more' }}</template
              >:
              {{ campaign.best.title }}
            </span>
          </template>
          <span v-else class="quiet">Nothing to compare yet: stock and one rung need a completed run each.</span>
        </div>
        <div>
          <span class="field-name">Do next</span>
          {{ campaign.standing?.next_step ?? 'Look in the logbook for a value that cannot be.' }}
        </div>
        <div class="begin">
          <AButton v-if="campaign.standin" type="primary" size="large" @click="openLive()"
            >Run on the stand-in <KeyCap>l</KeyCap></AButton
          >
          <AButton :type="campaign.standin ? 'default' : 'primary'" size="large" @click="openForm()"
            >Log a run <KeyCap>n</KeyCap></AButton
          >
        </div>
      </section>
      <StageSpine v-if="campaign.standing" :stages="campaign.standing.stages" :campaign-id="id" />
      <QuickLine ref="quick" :campaign-id="id" :example="lineExample" />
      <div class="stage"><RouterView /></div>
      <StartLive v-model:open="liveOpen" :campaign="campaign" :preset="livePreset" />
      <RunForm v-model:open="formOpen" :campaign="campaign" :preset="preset" />
    </template>
  </LoadState>
</template>

<style scoped>
.answers {
  display: grid;
  grid-template-columns: 1fr 1.15fr 1.1fr auto;
  gap: 24px;
  align-items: start;
  margin: 12px 0;
}
.begin {
  display: grid;
  gap: 8px;
}
.line {
  display: block;
}
.stage {
  margin-top: 16px;
}
@media (max-width: 1000px) {
  .begin {
    display: flex;
    flex-wrap: wrap;
  }
  .answers {
    grid-template-columns: 1fr 1fr;
    gap: 12px 24px;
  }
}
</style>
