<!-- One rung. Closed: setting, marks, gain, watts, degrees. Open: every run at it, of all workloads. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed } from 'vue'

import type { Knob, Workload } from '../../api/campaigns'
import type { Rung } from '../../api/ladder'
import { useRuns } from '../../api/runs'
import GainWhisker from '../../charts/GainWhisker.vue'
import { knobValue, number, plain, readByWords, signed } from '../../ui/words/format'
import GainFigure from '../../ui/GainFigure.vue'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import OlderRuns from '../runs/OlderRuns.vue'
import RunTable from '../runs/RunTable.vue'

const props = defineProps<{
  rung: Rung
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

const isStock = computed(() => props.rung.from_id === null)
const failedElsewhere = computed(() => props.rung.failures_elsewhere > 0)
const MOST_MARKS = 12
const marked = computed(() => props.rung.runs.slice(-MOST_MARKS))
const { data: page } = useRuns(
  () => props.campaignId,
  () => (props.open ? props.rung.setting_id : undefined),
)

const sentence = computed(() => {
  const parts = []
  if (props.rung.watts_saved != null)
    parts.push(`${number(Math.abs(props.rung.watts_saved), 0)} W ${props.rung.watts_saved >= 0 ? 'less' : 'more'} than stock`)
  if (props.rung.efficiency_ratio != null)
    parts.push(`${signed((props.rung.efficiency_ratio - 1) * 100, 1)} % work for the same energy`)
  if (props.rung.temp_max_c != null && props.rung.room_c != null) parts.push(`room ${number(props.rung.room_c)} °C`)
  if (props.rung.low_1_fps != null) parts.push(`1 % low ${plain(props.rung.low_1_fps)} fps`)
  if (props.rung.power.mixed) parts.push('power was read at different points, so it has no mean')
  return parts.join('; ')
})
</script>

<template>
  <div
    :class="['rung', { open, stock: isStock, failed: rung.failures || failedElsewhere }]"
    data-test="rung"
    :data-title="rung.title"
  >
    <div
      class="rung-grid row"
      role="row"
      tabindex="0"
      :data-rung="rung.setting_id"
      :aria-expanded="open"
      :aria-label="rung.title"
      @click="$emit('toggle')"
      @keydown.enter="$emit('toggle')"
    >
      <span class="safety-limit" aria-hidden="true"></span>
      <span class="knobs" role="cell">
        <span
          v-for="knob in knobs"
          :key="knob.key"
          :class="['figure', 'knob', { turned: rung.turned.includes(knob.key), still: rung.values[knob.key] === knob.stock }]"
          >{{
            rung.values[knob.key] === knob.stock && !isStock ? '·' : knobValue(rung.values[knob.key] ?? knob.stock, knob.stock)
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
        <span v-if="rung.run_count > marked.length" class="quiet">+{{ rung.run_count - marked.length }}</span>
        <span v-if="rung.run_count === 0 && !failedElsewhere" class="quiet">not with this workload</span>
        <span v-if="failedElsewhere && rung.failures === 0" class="warning" title="failed in another workload"
          >failed elsewhere</span
        >
      </span>
      <span class="figure right" role="cell">{{ rung.summary ? plain(rung.summary.mean) : '' }}</span>
      <span role="cell">
        <GainFigure v-if="rung.gain" :gain="rung.gain" stacked />
        <span v-else-if="isStock" class="quiet">stock, the reference</span>
      </span>
      <span role="cell"><GainWhisker v-if="!isStock" :gain="rung.gain" :low="low" :high="high" /></span>
      <span class="figure right" role="cell" :title="rung.power.n ? readByWords(rung.power) : undefined">
        {{ rung.power.mixed ? 'mixed' : rung.power.mean_w != null ? number(rung.power.mean_w, 0) : '' }}
      </span>
      <span class="figure right" role="cell">{{ rung.temp_max_c != null ? number(rung.temp_max_c) : '' }}</span>
      <span class="figure right efficiency" role="cell">{{ rung.efficiency ? plain(rung.efficiency.amount) : '' }}</span>
    </div>
    <div v-if="open" class="inside">
      <div class="acts">
        <p>
          <strong>{{ rung.title }}</strong><template v-if="sentence">: {{ sentence }}.</template>
        </p>
        <span class="buttons">
          <AButton v-if="withSimulator" size="small" type="primary" @click="$emit('live')">Run it on the simulator</AButton>
          <AButton size="small" @click="$emit('log')">Log a run here</AButton>
        </span>
      </div>
      <p v-if="rung.turned.length > 1" class="caution">
        {{ rung.turned.length }} knobs were turned on the way here; nothing tells which of them did it.
      </p>
      <RunTable v-if="page?.runs.length" :runs="page.runs" :name="rung.title" with-workload />
      <p v-else-if="page" class="quiet">No run at this setting yet.</p>
      <OlderRuns v-if="page" :shown="page.runs.length" :total="page.total" :setting-id="rung.setting_id" />
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
.rung {
  position: relative;
  border-bottom: 1px solid var(--rule);
}
/* the ladder itself: two safety limits and a rung */
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
