<script setup lang="ts">
import { Button as AButton, message } from 'ant-design-vue'
import { useRouteQuery } from '../../composables/useRouteQuery'
import { computed, nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { useClimb } from '../../api/climb'
import { type LadderSetting, useLadder } from '../../api/ladder'
import type { Setting } from '../../api/settings'
import { useShortcut } from '../../composables/keys'
import KeyCap from '../../ui/KeyCap.vue'
import LoadState from '../../ui/LoadState.vue'
import QueuePanel from '../live/QueuePanel.vue'
import { useOpenLive, useOpenRunForm, useStageCampaign } from '../../composables/useStageCampaign'
import { climbQuestion } from '../campaign/accepted'
import ClimbAdvice from './ClimbAdvice.vue'
import ClimbDrawing from './ClimbDrawing.vue'
import KnobTurns from './KnobTurns.vue'
import LadderView from './LadderView.vue'
import SettingForm from './SettingForm.vue'
import SettingPanel from './SettingPanel.vue'
import SideSheet from '../../ui/SideSheet.vue'

const campaign = useStageCampaign()
const openForm = useOpenRunForm()
const openLive = useOpenLive()
const workloadId = useRouteQuery('workload')
const build = useRouteQuery('build')
const route = useRoute()
const router = useRouter()
const knob = computed(() => (typeof route.query.knob === 'string' ? route.query.knob : undefined))
const choose = (key: string): void => void router.replace({ query: { ...route.query, knob: key, setting: undefined } })
const { data: climbed } = useClimb(
  () => campaign.value.id,
  () => climbQuestion(knob.value),
)
const { data, isPending, error, refetch } = useLadder(() => campaign.value.id, workloadId, build)

const workload = computed(() => campaign.value.workloads.find((one) => one.id === data.value?.workload_id))
const settings = computed(() => data.value?.ladder.settings ?? [])
const openId = ref<number>()
const ladder = computed(() => data.value?.ladder)
/** The settings of the climb that is drawn, and which of them is looked at. */
const onLine = computed(() => {
  const along = new Set(climbed.value?.climb.settings ?? [])
  return settings.value.filter((setting) => along.has(setting.setting_id))
})
const settingId = useRouteQuery('setting')
const chosen = computed(() => settings.value.find((setting) => setting.setting_id === settingId.value))
const nextValue = computed(() => {
  const step = climbed.value?.climb.steps.find((one) => one.strategy === campaign.value.way.strategy)
  return step?.advice.act === 'test' ? step.advice.value : undefined
})
const adding = ref(false)

/** A new setting starts from the highest one that has completed runs and no failure: one step from there is the next test. */
const lastGood = computed(
  () =>
    settings.value.find((setting) => setting.summary && setting.failures + setting.failures_elsewhere === 0) ??
    settings.value.at(-1),
)
const earlierBuild = computed(() => data.value && data.value.build_number !== data.value.present_build_number)

useShortcut('r', () => (adding.value = true))
useShortcut('ArrowUp', () => move(-1))
useShortcut('ArrowDown', () => move(1))

async function move(by: number): Promise<void> {
  const ids = settings.value.map((setting) => setting.setting_id)
  const focused = Number((document.activeElement as HTMLElement | null)?.dataset.setting)
  const from = ids.includes(focused) ? ids.indexOf(focused) : ids.indexOf(openId.value ?? -1)
  const next = ids[Math.min(ids.length - 1, Math.max(0, from < 0 ? ids.length - 1 : from + by))]
  await nextTick()
  document.querySelector<HTMLElement>(`[data-setting="${next}"]`)?.focus()
}

function added(setting: Setting): void {
  adding.value = false
  openId.value = setting.id
  void message.success(`Added: ${setting.title}`)
}
const toggle = (setting: LadderSetting): void =>
  void (openId.value = openId.value === setting.setting_id ? undefined : setting.setting_id)
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The ladder" @again="refetch">
    <template v-if="data && workload">
      <div class="bar">
        <KnobTurns
          v-if="climbed"
          class="grow"
          :turns="climbed.knobs"
          :knobs="campaign.knobs"
          :chosen="climbed.climb.knob.key"
          @choose="choose"
        />
        <label v-if="data.build_numbers.length > 1" class="quiet">
          Build
          <select :value="data.build_number" @change="build = Number(($event.target as HTMLSelectElement).value)">
            <option v-for="number in data.build_numbers" :key="number">{{ number }}</option>
          </select>
        </label>
        <label class="quiet">
          Results of
          <select
            data-test="workload"
            :value="workload.id"
            @change="workloadId = Number(($event.target as HTMLSelectElement).value)"
          >
            <option v-for="one in campaign.workloads" :key="one.id" :value="one.id">{{ one.name }}</option>
          </select>
        </label>
        <AButton @click="adding = true">Add a setting <KeyCap>r</KeyCap></AButton>
      </div>
      <p v-if="earlierBuild" class="caution note">
        These runs were made under build {{ data.build_number }}; the rig is now at build {{ data.present_build_number }}. Gains
        here hold for build {{ data.build_number }} only.
      </p>
      <p v-if="workload.cap_fps" class="caution note">
        This workload is capped at {{ workload.cap_fps }} fps: near the cap a faster setting cannot show its gain. Look at the
        lows.
      </p>
      <div v-if="climbed" class="work">
        <ClimbDrawing
          :climb="climbed.climb"
          :settings="onLine"
          :workload="workload.name"
          :next="nextValue"
          :chosen="chosen?.setting_id"
          :height="500"
          @choose="(id) => (settingId = id === settingId ? undefined : id)"
        />
        <div class="sheet panel">
          <SettingPanel
            v-if="chosen"
            :key="chosen.setting_id"
            :setting-id="chosen.setting_id"
            :title="chosen.title"
            :climb="climbed.climb"
            :value="chosen.values[climbed.climb.knob.key] ?? climbed.climb.knob.stock"
            :is-stock="chosen.from_id === null"
            @close="settingId = undefined"
            @live="openLive({ settingId: chosen.setting_id, workloadId: workload?.id })"
            @log="openForm({ settingId: chosen.setting_id, workloadId: workload?.id })"
          />
          <ClimbAdvice v-else :campaign="campaign" :workload-id="workload.id" :knob="knob" />
        </div>
      </div>
      <QueuePanel v-if="campaign.simulator" :campaign-id="campaign.id" />
      <h2 class="all">All settings</h2>
      <LadderView
        v-if="ladder"
        :with-simulator="!!campaign.simulator"
        :ladder="ladder"
        :knobs="campaign.knobs"
        :workload="workload"
        :campaign-id="campaign.id"
        :open-id="openId"
        @toggle="toggle"
        @live="(settingId) => openLive({ settingId, workloadId: workload?.id })"
        @log="(settingId) => openForm({ settingId, workloadId: workload?.id })"
      />
      <p v-if="settings.length === 1" class="sheet first">
        Only stock so far. The next step above makes the first setting, or press r.
      </p>
      <SideSheet v-model:open="adding" title="Add a setting" :width="420">
        <p class="quiet lead">Starts from {{ lastGood?.title ?? 'stock' }}. Turn one knob, one step.</p>
        <SettingForm :campaign-id="campaign.id" :knobs="campaign.knobs" :from="lastGood?.values ?? {}" @added="added" />
      </SideSheet>
    </template>
  </LoadState>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 16px;
  margin-bottom: 8px;
}
.grow {
  flex: 1;
}
.note {
  margin-bottom: 8px;
}
.work {
  display: grid;
  grid-template-columns: minmax(0, 11fr) minmax(0, 10fr);
  gap: 16px;
  margin-bottom: 16px;
}
.panel {
  max-height: 560px;
  padding: 10px 14px;
  overflow-y: auto;
}
.all {
  margin: 16px 0 8px;
}
@media (max-width: 1000px) {
  .work {
    grid-template-columns: minmax(0, 1fr);
  }
  .panel {
    max-height: none;
  }
}
.first {
  max-width: 640px;
  margin-top: 16px;
  padding: 16px;
}
.lead {
  margin-bottom: 16px;
}
select {
  min-height: 32px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
</style>
