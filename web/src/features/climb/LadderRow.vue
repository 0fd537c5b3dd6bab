<!-- One setting. Closed: setting, marks, gain, watts, degrees. Open: every run at it, of all workloads. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed } from 'vue'

import type { Knob, Workload } from '../../api/campaigns'
import type { LadderSetting } from '../../api/ladder'
import { useRuns } from '../../api/runs'
import GainWhisker from '../../charts/GainWhisker.vue'
import { knobValue, number, plain, readByWords, signed } from '../../ui/words/format'
import GainFigure from '../../ui/GainFigure.vue'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import OlderRuns from '../runs/OlderRuns.vue'
import RunTable from '../runs/RunTable.vue'

const props = defineProps<{
  setting: LadderSetting
  knobs: Knob[]
  workload: Workload
  campaignId: number
  low: number
  high: number
  open: boolean
  liveIds: Set<number>
  withSimulator: boolean
}>()
defineEmits<{ toggle: []; log: []; live: [] }>()

const isStock = computed(() => props.setting.from_id === null)
const failedElsewhere = computed(() => props.setting.failures_elsewhere > 0)
const MOST_MARKS = 12
const marked = computed(() => props.setting.runs.slice(-MOST_MARKS))
const { data: page } = useRuns(
  () => props.campaignId,
  () => (props.open ? props.setting.setting_id : undefined),
)

const sentence = computed(() => {
  const parts = []
  if (props.setting.watts_saved != null)
    parts.push(
      `${number(Math.abs(props.setting.watts_saved), 0)} W ${props.setting.watts_saved >= 0 ? 'less' : 'more'} than stock`,
    )
  if (props.setting.efficiency_ratio != null)
    parts.push(`${signed((props.setting.efficiency_ratio - 1) * 100, 1)} % work for the same energy`)
  if (props.setting.temp_max_c != null && props.setting.room_c != null) parts.push(`room ${number(props.setting.room_c)} °C`)
  if (props.setting.low_1_fps != null) parts.push(`1 % low ${plain(props.setting.low_1_fps)} fps`)
  if (props.setting.power.mixed) parts.push('power was read at different points, so it has no mean')
  return parts.join('; ')
})
</script>

<template>
  <div
    :class="['setting', { open, stock: isStock, failed: setting.failures || failedElsewhere }]"
    data-test="setting"
    :data-title="setting.title"
  >
    <div
      class="setting-grid row"
      role="row"
      tabindex="0"
      :data-setting="setting.setting_id"
      :aria-expanded="open"
      :aria-label="setting.title"
      @click="$emit('toggle')"
      @keydown.enter="$emit('toggle')"
    >
      <span class="safety-limit" aria-hidden="true"></span>
      <span class="knobs" role="cell">
        <span
          v-for="knob in knobs"
          :key="knob.key"
          :class="[
            'figure',
            'knob',
            { turned: setting.turned.includes(knob.key), still: setting.values[knob.key] === knob.stock },
          ]"
          >{{
            setting.values[knob.key] === knob.stock && !isStock
              ? '·'
              : knobValue(setting.values[knob.key] ?? knob.stock, knob.stock)
          }}</span
        >
      </span>
      <span class="marks" role="cell">
        <OutcomeMark
          v-for="run in marked"
          :key="run.id"
          :outcome="run.outcome"
          :set-aside="run.set_aside"
          :running="liveIds.has(run.id)"
        />
        <span v-if="setting.run_count > marked.length" class="quiet">+{{ setting.run_count - marked.length }}</span>
        <span v-if="setting.run_count === 0 && !failedElsewhere" class="quiet">not with this workload</span>
        <span v-if="failedElsewhere && setting.failures === 0" class="warning" title="failed in another workload"
          >failed elsewhere</span
        >
      </span>
      <span class="figure right" role="cell">{{ setting.summary ? plain(setting.summary.mean) : '' }}</span>
      <span role="cell">
        <GainFigure v-if="setting.gain" :gain="setting.gain" stacked />
        <span v-else-if="isStock" class="quiet">stock, the reference</span>
      </span>
      <span role="cell"><GainWhisker v-if="!isStock" :gain="setting.gain" :low="low" :high="high" /></span>
      <span class="figure right" role="cell" :title="setting.power.n ? readByWords(setting.power) : undefined">
        {{ setting.power.mixed ? 'mixed' : setting.power.mean_w != null ? number(setting.power.mean_w, 0) : '' }}
      </span>
      <span class="figure right" role="cell">{{ setting.temp_max_c != null ? number(setting.temp_max_c) : '' }}</span>
      <span class="figure right efficiency" role="cell">{{ setting.efficiency ? plain(setting.efficiency.amount) : '' }}</span>
    </div>
    <div v-if="open" class="inside">
      <div class="acts">
        <p>
          <strong>{{ setting.title }}</strong><template v-if="sentence">: {{ sentence }}.</template>
        </p>
        <span class="buttons">
          <AButton v-if="withSimulator" size="small" type="primary" @click="$emit('live')">Run it on the simulator</AButton>
          <AButton size="small" @click="$emit('log')">Log a run here</AButton>
        </span>
      </div>
      <p v-if="setting.turned.length > 1" class="caution">
        {{ setting.turned.length }} knobs were turned on the way here; nothing tells which of them did it.
      </p>
      <RunTable v-if="page?.runs.length" :runs="page.runs" :name="setting.title" with-workload />
      <p v-else-if="page" class="quiet">No run at this setting yet.</p>
      <OlderRuns v-if="page" :shown="page.runs.length" :total="page.total" :setting-id="setting.setting_id" />
    </div>
  </div>
</template>

<style scoped>
.row {
  min-height: 40px;
  cursor: pointer;
}
.row:hover {
  background: var(--wash);
}
.setting {
  position: relative;
  border-bottom: 1px solid var(--rule);
}
/* the ladder itself: two safety limits and a setting */
.safety-limit {
  position: relative;
  align-self: stretch;
  border-right: 2px solid var(--quiet);
  border-left: 2px solid var(--quiet);
}
.safety-limit::after {
  position: absolute;
  top: calc(50% - 1px);
  right: 0;
  left: 0;
  border-top: 2px solid var(--petrol);
  content: '';
}
.failed .safety-limit::after {
  border-top: 2px dashed var(--orange);
}
.stock .safety-limit::after {
  border-top-width: 4px;
}
.open > .row {
  background: var(--wash);
}
.knob {
  text-align: right;
}
.turned {
  font-weight: 700;
}
.still {
  color: var(--quiet);
}
.right {
  text-align: right;
}
.marks {
  display: flex;
  flex-wrap: wrap;
  gap: 3px;
}
.inside {
  position: relative;
  padding: 8px 0 16px 38px;
}
.inside::before {
  position: absolute;
  top: 0;
  bottom: 0;
  left: 0;
  width: 26px;
  border-right: 2px solid var(--quiet);
  border-left: 2px solid var(--quiet);
  content: '';
}
@media (max-width: 1100px) {
  .inside::before {
    width: 22px;
  }
}
.buttons {
  display: flex;
  flex: none;
  gap: 8px;
}
.acts {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 16px;
  margin-bottom: 8px;
}
</style>
