<!-- Curve: clock over voltage, shaped for a cap and a target; and the edge over both knobs. -->
<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { inOneText, problemsOf } from '../../api/client'
import { useCurve, useKeepCurve } from '../../api/lab'
import CurveChart from '../../charts/CurveChart.vue'
import PlaneChart from '../../charts/PlaneChart.vue'
import { useProblems } from '../../composables/useProblems'
import { useStageCampaign } from '../../composables/useStageCampaign'
import IntervalFigure from '../../ui/IntervalFigure.vue'
import LoadState from '../../ui/LoadState.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import TableTools from '../../ui/TableTools.vue'
import TextField from '../../ui/TextField.vue'
import { exact, gain, hoursWords, knobValue, number, signed } from '../../ui/words/format'
import { useTryOut } from '../../composables/useTryOut'

const campaign = useStageCampaign()
const cap = ref<number | null>(null)
const target = ref<number | null>(null)
const grid = ref<number | null>(null)
const most = ref<number | null>(null)
const forClock = ref<number | null>(null)
const wish = computed(() => ({
  capV: cap.value === null ? undefined : cap.value / 1000,
  targetMhz: target.value ?? undefined,
  gridMhz: grid.value ?? undefined,
  mostOffsetMhz: most.value ?? undefined,
  forClock: forClock.value ?? undefined,
}))
const { data, isPending, error, refetch } = useCurve(() => campaign.value.id, refDebounced(wish, 400))
const { mutateAsync, isPending: keeping } = useKeepCurve()
const { problems, take, clear } = useProblems()
const tryOut = useTryOut(campaign)
const failed = ref('')
const typing = ref(false)
const text = ref('')

function open(): void {
  text.value = data.value?.source === 'typed' ? data.value.curve.map((one) => `${one.voltage_v};${one.core_mhz}`).join('\n') : ''
  typing.value = true
}
async function keep(wanted: string): Promise<void> {
  clear()
  try {
    await mutateAsync({ campaignId: campaign.value.id, text: wanted })
    typing.value = false
  } catch (trouble) {
    take(trouble)
  }
}
async function readFile(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) text.value = await file.text()
}
const rows = computed(
  () => data.value?.shaped?.points.map((one) => [one.voltage_v, one.stock_mhz, one.core_mhz, one.offset_mhz]) ?? [],
)
const plane = computed(() => data.value?.plane)
/** Runs the pair that teaches most, with the heaviest workload. */
async function test(): Promise<void> {
  const view = plane.value
  if (!view?.next) return
  failed.value = ''
  const values = { [view.voltage.key]: view.next.voltage, [view.clock.key]: view.next.value }
  const turned = Object.fromEntries(
    Object.entries(values).filter(([key, value]) => value !== campaign.value.knobs.find((knob) => knob.key === key)?.stock),
  )
  try {
    await tryOut({ settingId: view.setting_id, values: turned, workloadId: view.load_id, minutes: view.next.minutes })
  } catch (trouble) {
    failed.value = problemsOf(trouble)
      .map((one) => `${one.what} ${one.todo}`)
      .join(' ')
  }
}
const at = (voltage: number, value: number): string =>
  plane.value
    ? `${knobValue(voltage, plane.value.voltage.stock)} ${plane.value.voltage.unit}, ${knobValue(value, plane.value.clock.stock)} ${plane.value.clock.unit}`
    : ''
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The curve" @again="refetch">
    <template v-if="data">
      <div class="two">
        <section>
          <div class="line">
            <h2>Clock over voltage</h2>
            <span class="quiet">{{ data.source }}</span>
            <AButton size="small" @click="open">{{
              data.source === 'typed' ? 'Change the curve' : 'Type or paste a curve'
            }}</AButton>
          </div>
          <form v-if="typing" class="typing" @submit.prevent="keep(text)">
            <TextField
              v-model="text"
              label="A voltage and a clock a line: mV or V, then MHz"
              hint="800;1935"
              :lines="7"
              :most="40000"
            />
            <p>
              <label class="file"
                >From a file: <input type="file" accept=".csv,.txt,text/csv,text/plain" @change="readFile"
              /></label>
            </p>
            <ProblemList :problems="problems" title="Not saved:" />
            <p class="acts">
              <AButton type="primary" html-type="submit" :loading="keeping" :disabled="!text.trim()">Save the curve</AButton>
              <AButton v-if="data.source === 'typed'" @click="keep('')">Forget it</AButton>
              <AButton @click="typing = false">Cancel</AButton>
            </p>
          </form>
          <p v-if="data.source === 'none yet'" class="quiet">
            No curve yet. Type or paste one, or log a run at stock with voltage and core clock during which a power limit or heat
            moves the clock: the curve is learnt from where it goes.
          </p>
          <CurveChart v-else :view="data" />
        </section>
        <section v-if="data.curve.length">
          <h2>Shape it</h2>
          <div class="asks">
            <NumberField v-model="cap" label="Voltage cap" unit="mV" width="120px" />
            <NumberField v-model="target" label="Clock there" unit="MHz" width="130px" />
            <NumberField v-model="grid" label="Step" unit="MHz" hint="15" width="110px" />
            <NumberField v-model="most" label="Largest offset" unit="MHz" hint="1000" width="130px" />
          </div>
          <p v-if="data.refused.length" class="warning">{{ inOneText(data.refused) }}</p>
          <template v-else-if="data.shaped">
            <p data-test="shaped">
              <strong>{{ data.shaped.says.text }}</strong>
            </p>
            <p v-if="data.gap_mhz != null" class="quiet">
              The clock got stays {{ number(data.gap_mhz, 0) }} MHz below the clock set: expect
              {{ number(data.shaped.got_mhz, 0) }} MHz.
            </p>
            <p v-if="data.at_cap?.power_w" data-test="at-cap">
              {{ data.at_cap.workload }} would draw
              <IntervalFigure :of="data.at_cap.power_w" unit="W" :decimals="0" /> there<template
                v-if="data.at_cap.stock_w != null"
              >
                ({{ number(data.at_cap.stock_w, 0) }} W at stock)</template
              ><template v-if="data.at_cap.clock_ratio != null"
                >, at <span class="estimate">{{ gain(data.at_cap.clock_ratio) }}</span> of stock’s clock</template
              >.
            </p>
            <table class="ledger points" data-test="points">
              <thead>
                <tr>
                  <th class="number">mV</th>
                  <th class="number">stock, MHz</th>
                  <th class="number">new, MHz</th>
                  <th class="number">offset, MHz</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="one in data.shaped.points" :key="one.voltage_v">
                  <td class="number figure">{{ number(1000 * one.voltage_v, 0) }}</td>
                  <td class="number figure">{{ number(one.stock_mhz, 0) }}</td>
                  <td class="number figure">{{ number(one.core_mhz, 0) }}</td>
                  <td class="number figure">{{ signed(one.offset_mhz, 0) }}</td>
                </tr>
              </tbody>
            </table>
            <TableTools name="curve" :headers="['voltage V', 'stock MHz', 'new MHz', 'offset MHz']" :rows="rows" />
          </template>
          <p v-else class="quiet">
            Type a voltage and the clock to hold there: the points of the new curve and the offset each needs.
          </p>
        </section>
      </div>
      <section v-if="plane" class="block">
        <h2>What holds at each voltage</h2>
        <PlaneChart :plane="plane" />
        <p v-if="plane.next" data-test="next-pair">
          To know these lines better: <strong>{{ at(plane.next.voltage, plane.next.value) }}</strong> for
          {{ number(plane.next.minutes, 0) }} min. <span class="quiet">{{ plane.next.why.text }}</span>
          <AButton size="small" @click="test">{{ campaign.simulator ? 'Run it' : 'Log it' }}</AButton>
          <span v-if="failed" class="warning"> {{ failed }}</span>
        </p>
        <p v-else class="quiet" data-test="pairs-known">
          The lines are known well enough: no further test would move them much. What saves most with them stands on the sheet
          Trade-off.
        </p>
        <div class="asks lowest">
          <NumberField
            v-model="forClock"
            :label="`Lowest voltage for a ${plane.clock.name.toLowerCase()} of`"
            :unit="plane.clock.unit"
            :hint="exact(plane.clock.stock)"
            width="250px"
          />
          <p data-test="lowest">
            <template v-if="plane.lowest"
              ><strong class="estimate"
                >{{ knobValue(plane.lowest.voltage, plane.voltage.stock) }} {{ plane.voltage.unit }}</strong
              >, {{ number(100 * plane.sure, 0) }} % sure of at most one failure in {{ hoursWords(plane.accepted_h) }};
              {{ plane.lowest.tried ? 'a run survived there' : 'no run there yet' }}.</template
            >
            <template v-else>No voltage tried so far holds it.</template>
          </p>
        </div>
      </section>
      <p v-else class="quiet block">
        The edge over both knobs needs a core clock in MHz and a voltage in mV or V among the campaign’s knobs, and runs with both
        reached values read.
      </p>
    </template>
  </LoadState>
</template>

<style scoped>
.two {
  grid-template-columns: minmax(0, 6fr) minmax(0, 5fr);
}
.lowest p {
  margin: 0 0 4px;
}
.acts {
  display: flex;
  gap: 16px;
  align-items: baseline;
}
.typing {
  margin: 8px 0;
}
.points {
  margin: 8px 0;
}
.points td {
  padding: 2px 8px;
}
.file {
  font-size: 13px;
}
</style>
