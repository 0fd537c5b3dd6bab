<script setup lang="ts">
import { Button as AButton, Drawer as ADrawer, message } from 'ant-design-vue'
import { useRouteQuery } from '../../composables/useRouteQuery'
import { computed, nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { useClimb } from '../../api/climb'
import { type Rung, useLadder } from '../../api/ladder'
import type { Setting } from '../../api/settings'
import { useShortcut } from '../../composables/keys'
import KeyCap from '../../parts/KeyCap.vue'
import LoadState from '../../parts/LoadState.vue'
import QueuePanel from '../../live/QueuePanel.vue'
import { useOpenLive, useOpenRunForm, useStageCampaign } from '../../composables/useStageCampaign'
import { climbQuestion } from '../accepted'
import ClimbAdvice from './ClimbAdvice.vue'
import LadderView from './LadderView.vue'
import RungForm from './RungForm.vue'

const campaign = useStageCampaign()
const openForm = useOpenRunForm()
const openLive = useOpenLive()
const workloadId = useRouteQuery('workload')
const fitting = useRouteQuery('fitting')
const route = useRoute()
const router = useRouter()
const knob = computed(() => (typeof route.query.knob === 'string' ? route.query.knob : undefined))
/** Choosing a knob narrows the ladder to its own climb; choosing it again shows every rung. */
const choose = (key: string): void =>
  void router.replace({ query: { ...route.query, knob: key === knob.value ? undefined : key } })
const { data: climbed } = useClimb(
  () => campaign.value.id,
  () => climbQuestion(knob.value),
)
const { data, isPending, error, refetch } = useLadder(() => campaign.value.id, workloadId, fitting)

const workload = computed(() => campaign.value.workloads.find((one) => one.id === data.value?.workload_id))
const rungs = computed(() => data.value?.ladder.rungs ?? [])
const openId = ref<number>()
const own = computed(() => new Set(knob.value ? climbed.value?.climb.settings : []))
const ladder = computed(() =>
  data.value && own.value.size
    ? { ...data.value.ladder, rungs: rungs.value.filter((rung) => own.value.has(rung.setting_id)) }
    : data.value?.ladder,
)
const knobName = computed(() => campaign.value.knobs.find((one) => one.key === knob.value)?.name.toLowerCase())
const adding = ref(false)

/** A new rung starts from the highest one that has completed runs and no failure: one step from there is the next test. */
const lastGood = computed(
  () => rungs.value.find((rung) => rung.summary && rung.failures + rung.failures_elsewhere === 0) ?? rungs.value.at(-1),
)
const earlierFitting = computed(() => data.value && data.value.fitting_number !== data.value.present_fitting_number)

useShortcut('r', () => (adding.value = true))
useShortcut('ArrowUp', () => move(-1))
useShortcut('ArrowDown', () => move(1))

async function move(by: number): Promise<void> {
  const ids = rungs.value.map((rung) => rung.setting_id)
  const focused = Number((document.activeElement as HTMLElement | null)?.dataset.rung)
  const from = ids.includes(focused) ? ids.indexOf(focused) : ids.indexOf(openId.value ?? -1)
  const next = ids[Math.min(ids.length - 1, Math.max(0, from < 0 ? ids.length - 1 : from + by))]
  await nextTick()
  document.querySelector<HTMLElement>(`[data-rung="${next}"]`)?.focus()
}

function added(setting: Setting): void {
  adding.value = false
  openId.value = setting.id
  void message.success(`Added: ${setting.title}`)
}
const toggle = (rung: Rung): void => void (openId.value = openId.value === rung.setting_id ? undefined : rung.setting_id)
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The ladder" @again="refetch">
    <template v-if="data && workload">
      <div class="bar">
        <div class="workloads" role="radiogroup" aria-label="Workload shown">
          <button
            v-for="one in campaign.workloads"
            :key="one.id"
            type="button"
            role="radio"
            :aria-checked="one.id === workload.id"
            :class="{ on: one.id === workload.id }"
            @click="workloadId = one.id"
          >
            {{ one.name }}
          </button>
        </div>
        <label v-if="data.fitting_numbers.length > 1" class="quiet">
          Fitting
          <select :value="data.fitting_number" @change="fitting = Number(($event.target as HTMLSelectElement).value)">
            <option v-for="number in data.fitting_numbers" :key="number">{{ number }}</option>
          </select>
        </label>
        <AButton @click="adding = true">Add a rung <KeyCap>r</KeyCap></AButton>
      </div>
      <p v-if="earlierFitting" class="caution note">
        These runs were made under fitting {{ data.fitting_number }}; the rig is now at fitting {{ data.present_fitting_number }}.
        Gains here hold for fitting {{ data.fitting_number }} only.
      </p>
      <p v-if="workload.cap_fps" class="caution note">
        This workload is capped at {{ workload.cap_fps }} fps: near the cap a faster setting cannot show its gain. Look at the
        lows.
      </p>
      <QueuePanel v-if="campaign.standin" :campaign-id="campaign.id" />
      <ClimbAdvice :campaign="campaign" :workload-id="workload.id" :knob="knob" @choose="choose" />
      <p v-if="own.size" class="narrowed">
        The climb of {{ knobName }}, from {{ climbed?.climb.base_title }}: {{ own.size }} of {{ rungs.length }} rungs.
        <AButton size="small" @click="choose(knob ?? '')">Show every rung</AButton>
      </p>
      <LadderView
        v-if="ladder"
        :with-standin="!!campaign.standin"
        :ladder="ladder"
        :knobs="campaign.knobs"
        :workload="workload"
        :campaign-id="campaign.id"
        :open-id="openId"
        @toggle="toggle"
        @live="(settingId) => openLive({ settingId, workloadId: workload?.id })"
        @log="(settingId) => openForm({ settingId, workloadId: workload?.id })"
      />
      <p v-if="rungs.length === 1" class="sheet first">
        Only stock so far. Add the first rung: one knob, one step. You listed {{ campaign.knobs[0]?.name.toLowerCase() }} first.
      </p>
      <ADrawer v-model:open="adding" title="Add a rung" :width="420">
        <p class="quiet lead">Starts from {{ lastGood?.title ?? 'stock' }}. Turn one knob, one step.</p>
        <RungForm :campaign-id="campaign.id" :knobs="campaign.knobs" :from="lastGood?.values ?? {}" @added="added" />
      </ADrawer>
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
.workloads {
  display: flex;
  flex: 1;
  flex-wrap: wrap;
  gap: 0 20px;
}
.workloads button {
  min-height: 36px;
  padding: 0;
  border: 0;
  border-bottom: 2px solid transparent;
  background: none;
  color: var(--quiet);
  font: inherit;
  cursor: pointer;
}
.workloads button.on {
  border-bottom-color: var(--petrol);
  color: var(--ink);
  font-weight: 700;
}
.note {
  margin-bottom: 8px;
}
.narrowed {
  display: flex;
  gap: 12px;
  align-items: center;
  margin-bottom: 8px;
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
