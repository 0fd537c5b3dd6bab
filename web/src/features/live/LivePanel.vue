<!-- A run as it happens: how it stands, strips of its readings with the safety limits, and the keys to act. -->
<script setup lang="ts">
import { Button as AButton, message, Progress as AProgress } from 'ant-design-vue'
import { computed, nextTick, ref } from 'vue'

import { type Live, useEndLive, useNoteLive } from '../../api/live'
import { useHeatNow } from '../../api/lab'
import StripChart from '../../charts/StripChart.vue'
import { span } from '../../ui/words/format'
import { useShortcut } from '../../composables/keys'
import KeyCap from '../../ui/KeyCap.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import TextField from '../../ui/TextField.vue'
import { colours } from '../../composables/theme'
import EndRun from './EndRun.vue'
import LostRun from './LostRun.vue'
import MarkList from './MarkList.vue'
import SafetyLimitList from './SafetyLimitList.vue'
import { stripsOf } from './strips'
import { useLiveStream } from './useLiveStream'

const props = defineProps<{ live: Live }>()
const { points, standing: streamed, connected } = useLiveStream(props.live.run_id)
const standing = computed(() => streamed.value ?? props.live.standing)
const strips = computed(() =>
  stripsOf(
    points.value.filter((channel) => channel.values.length > 0),
    props.live.safety_limits,
  ),
)
const more = ref(false)
const shown = computed(() => strips.value.filter((strip) => strip.first || strip.safetyLimits.length || more.value))
const hidden = computed(
  () => strips.value.length - strips.value.filter((strip) => strip.first || strip.safetyLimits.length).length,
)
const share = computed(() => Math.min(100, (100 * standing.value.elapsed_s) / standing.value.planned_s))
const lost = computed(() => standing.value.state === 'lost')

/** Asked every ten seconds of bench time, but not oftener than every two of the watcher's own; what is over before is not read. */
const { data: heat } = useHeatNow(
  () => props.live.run_id,
  () => {
    const everyMs = Math.max(2000, 10_000 / props.live.speed)
    return standing.value.state === 'open' && standing.value.left_real_s * 1000 > everyMs ? everyMs : false
  },
)

const { mutateAsync: end, isPending: ending } = useEndLive()
const { mutateAsync: note } = useNoteLive()
const { problems, take, clear } = useProblems()
const crashing = ref(false)
const noting = ref(false)
const text = ref('')
const noteField = ref<HTMLElement>()

async function stop(): Promise<void> {
  clear()
  try {
    await end({ runId: props.live.run_id, outcome: 'stopped by hand', note: 'Stopped at the screen.' })
  } catch (trouble) {
    take(trouble)
  }
}
async function openNote(): Promise<void> {
  noting.value = true
  await nextTick()
  noteField.value?.querySelector('input')?.focus()
}
async function keepNote(): Promise<void> {
  clear()
  try {
    await note({ runId: props.live.run_id, text: text.value })
    text.value = ''
    noting.value = false
    void message.success('Noted.')
  } catch (trouble) {
    take(trouble)
  }
}
useShortcut('s', () => void stop())
useShortcut('x', () => (crashing.value = true))
useShortcut('m', () => void openNote())
</script>

<template>
  <section class="panel" aria-label="Live run">
    <LostRun v-if="lost && live.likely" :live="live" />
    <div class="status" data-test="live-status">
      <div>
        <span class="field-name">Run time</span>
        <span class="figure big">{{ span(standing.elapsed_s) }}</span>{{ ' '
        }}<span class="one-line">of {{ span(standing.planned_s) }}</span>
        <AProgress
          :percent="share"
          :show-info="false"
          size="small"
          :stroke-color="lost ? colours.ochre : colours.petrol"
          :trail-color="colours.rule"
          aria-label="Part of the planned time"
        />
      </div>
      <div>
        <span class="field-name">Left</span>
        <span class="figure big">{{ span(standing.left_s) }}</span>
        <span v-if="live.speed > 1" class="quiet real">about {{ span(standing.left_real_s) }} real time</span>
      </div>
      <div class="limiter">
        <span class="field-name">Held back by</span>
        <strong>{{ standing.limiter.what }}</strong> <span class="quiet">{{ standing.limiter.why }}</span>
      </div>
      <div class="acts">
        <AButton :loading="ending" @click="stop">Stop the run <KeyCap>s</KeyCap></AButton>
        <AButton danger @click="crashing = true">It crashed <KeyCap>x</KeyCap></AButton>
        <AButton @click="openNote">Note <KeyCap>m</KeyCap></AButton>
      </div>
    </div>
    <p v-if="heat" :class="['heat', { gain: heat.can_stop }]" data-test="heat-now">{{ heat.says.text }}</p>
    <p class="quiet line" role="status">
      {{ live.bench }}<template v-if="live.simulator">, {{ live.speed }}× real time</template>.
      <span v-if="connected">Readings come in as they are made.</span>
      <span v-else class="caution">Connection lost; reconnecting, no readings are lost.</span>
    </p>
    <form v-if="noting" ref="noteField" class="note" @submit.prevent="keepNote" @keydown.esc="noting = false">
      <TextField v-model="text" label="What you noticed" hint="a flicker at the left edge" :most="1000" />
      <AButton type="primary" html-type="submit">Save the note</AButton>
      <AButton @click="noting = false">Cancel</AButton>
    </form>
    <ProblemList :problems="problems" title="Not done:" />
    <p v-if="strips.length === 0" class="sheet waiting">
      No reading yet. The run is written down already: should the machine go down now, it will not be forgotten.
    </p>
    <StripChart
      v-for="(strip, index) in shown"
      :key="strip.name"
      :last="index === shown.length - 1"
      :name="strip.name"
      :unit="strip.unit"
      :channels="strip.channels"
      :safety-limits="strip.safetyLimits"
      :planned-s="Math.max(standing.planned_s, standing.elapsed_s)"
    />
    <AButton v-if="hidden > 0" type="text" @click="more = !more">{{
      more ? 'Fewer readings' : `${hidden} more readings`
    }}</AButton>
    <div class="below">
      <MarkList :marks="live.marks" />
      <SafetyLimitList :safety-limits="live.safety_limits" :unwatched="live.unwatched" />
    </div>
    <EndRun v-model:open="crashing" :run-id="live.run_id" />
  </section>
</template>

<style scoped>
.status {
  display: grid;
  grid-template-columns: 240px 180px minmax(0, 1fr) auto;
  gap: 24px;
  align-items: start;
  margin-top: 16px;
}
.big {
  font-size: 20px;
  font-weight: 700;
}
.real {
  display: block;
  font-size: 13px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.line {
  margin: 4px 0 8px;
  font-size: 13px;
}
.note {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 8px;
  align-items: end;
  margin-bottom: 12px;
}
.waiting {
  max-width: 640px;
  padding: 16px;
}
.below {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 32px;
  margin-top: 24px;
}
@media (max-width: 1000px) {
  .status {
    grid-template-columns: 1fr 1fr;
    gap: 12px 24px;
  }
  .below {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
