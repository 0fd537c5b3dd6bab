<!-- Heat: where a log says the part settles, what the cooler is worth, and what a limit asks of it. -->
<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { type Interval, useHeat } from '../../api/lab'
import HeatChart from '../../charts/HeatChart.vue'
import { useRouteQuery } from '../../composables/useRouteQuery'
import { useStageCampaign } from '../../composables/useStageCampaign'
import IntervalFigure from '../../parts/IntervalFigure.vue'
import LoadState from '../../parts/LoadState.vue'
import NumberField from '../../parts/NumberField.vue'
import TableTools from '../../parts/TableTools.vue'
import { counted, moment, number, span } from '../../words/format'

const campaign = useStageCampaign()
const run = useRouteQuery('log')
const limit = ref<number | null>(null)
const room = ref<number | null>(null)
const asked = computed(() => ({ runId: run.value, limitC: limit.value, roomC: room.value }))
const { data, isPending, error, refetch } = useHeat(() => campaign.value.id, refDebounced(asked, 300))
const rows = computed(() =>
  (data.value?.logs ?? []).map((one) => [
    one.started_at,
    one.workload,
    one.setting,
    one.fitting,
    one.lasts_s,
    one.power_w,
    one.fan_percent,
    one.settles_c?.value,
    one.settles_c?.low,
    one.settles_c?.high,
    one.resistance?.value,
    one.resistance?.low,
    one.resistance?.high,
  ]),
)
const verdictClass = { enough: 'gain', 'not enough': 'warning', 'too close to tell': 'caution' } as const

/** Less than nothing cooler is warmer. */
const apart = (of: Interval): { of: Interval; word: string } =>
  of.value < 0 ? { of: { value: -of.value, low: -of.high, high: -of.low }, word: 'warmer' } : { of, word: 'cooler' }
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The heat" @again="refetch">
    <template v-if="data">
      <p v-if="data.logs.length === 0" class="sheet empty">
        No log of this rig tells of heat yet. Log a run of at least a minute with the part’s temperature (ten minutes tell most;
        its power and fan help): attach a log to a run, or let the bench or the stand-in make one.
      </p>
      <template v-else>
        <div class="two">
          <section v-if="data.trace">
            <h2>Where it settles</h2>
            <p data-test="heat-says">
              <strong>{{ data.trace.says.text }}</strong>
            </p>
            <HeatChart :trace="data.trace" :limit-c="data.limit_c" />
            <p class="quiet told">
              <template v-if="data.trace.learnt_from"
                >Knows {{ counted(data.trace.learnt_from, 'earlier log') }} of this fitting.</template
              >
              <template v-else>No earlier log of this fitting to learn from.</template>
              <template v-if="data.trace.told.length">
                It would have said
                <template v-for="(one, index) in data.trace.told" :key="one.after_min"
                  ><template v-if="index">, </template>after {{ one.after_min }} min
                  <IntervalFigure :of="one.settles_c" unit="°C" /></template
                >.
              </template>
            </p>
          </section>
          <section>
            <h2>What a limit asks of the cooler</h2>
            <div class="asks">
              <NumberField v-model="limit" label="Temperature limit" unit="°C" width="130px" :hint="number(data.limit_c, 0)" />
              <NumberField v-model="room" label="Room" unit="°C" width="130px" :hint="number(data.room_c, 1)" />
            </div>
            <p v-if="data.limit_c === null" class="quiet">Type a limit to see which cooler it asks for.</p>
            <p v-else-if="data.needs.length === 0" class="quiet">No run at stock with its power read yet.</p>
            <table v-else class="ledger" data-test="needs">
              <thead>
                <tr>
                  <th>Use, at {{ data.ladder_setting }}</th>
                  <th class="number">W</th>
                  <th class="number">settles at, °C</th>
                  <th class="number">needs, °C/W</th>
                  <th>This cooler</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="one in data.needs" :key="one.use.name">
                  <td>
                    {{ one.use.name }} <span class="quiet">{{ one.use.kind }}</span>
                  </td>
                  <td class="number figure">{{ number(one.use.power_w, 0) }}</td>
                  <td class="number"><IntervalFigure v-if="one.settles_c" :of="one.settles_c" unit="" /></td>
                  <td class="number figure">{{ number(one.needed_c_per_w, 3) }}</td>
                  <td :class="one.verdict ? verdictClass[one.verdict] : 'quiet'">{{ one.verdict ?? 'not known yet' }}</td>
                </tr>
              </tbody>
            </table>
          </section>
        </div>
        <section class="block">
          <h2>Coolers and fittings</h2>
          <p class="quiet">
            Degrees the part stands above the room for each watt. Where the fan was read: with the fan at
            {{ number(data.reference_fan, 0) }} %, so that fittings compare at the same fan.
          </p>
          <p v-if="data.fittings.length === 0" class="quiet">It takes a log with the part’s power, and the room’s temperature.</p>
          <table v-else class="ledger" data-test="fittings">
            <tbody>
              <tr v-for="one in data.fittings" :key="`${one.number} ${one.fan_read}`">
                <td class="quiet">fitting {{ one.number }}</td>
                <td>{{ one.cooling }}</td>
                <td class="number"><IntervalFigure :of="one.resistance" unit="°C/W" :decimals="3" /></td>
                <td class="quiet">
                  {{ counted(one.runs, 'log') }}<template v-if="!one.fan_read">, at whatever fan there was</template>
                </td>
              </tr>
            </tbody>
          </table>
          <ul v-if="data.differences.length" class="differences">
            <li v-for="one in data.differences" :key="`${one.newer} ${one.older} ${one.difference.same_fan}`">
              Fitting {{ one.newer }} against fitting {{ one.older }} at {{ number(one.power_w, 0) }} W:
              <IntervalFigure :of="apart(one.difference.cooler_c).of" unit="°C" /> {{ apart(one.difference.cooler_c).word }},
              {{ one.difference.told
              }}<template v-if="!one.difference.same_fan">; the fan was not read in both, so this may be the fan</template>.
              <template v-if="one.at_noise">
                As loud as each other, {{ number(one.at_noise.dba, 1) }} dB(A), with the fans at
                {{ number(one.at_noise.first_fan, 0) }} % and {{ number(one.at_noise.second_fan, 0) }} %:
                <IntervalFigure :of="apart(one.at_noise.difference.cooler_c).of" unit="°C" />
                {{ apart(one.at_noise.difference.cooler_c).word }}, {{ one.at_noise.difference.told }}.
              </template>
            </li>
          </ul>
        </section>
        <section class="block">
          <div class="line">
            <h2>Logs of this rig</h2>
            <span v-if="data.of > data.logs.length" class="quiet"
              >{{ data.logs.length }} of {{ data.of }}: the newest that last a minute or longer</span
            >
            <TableTools
              name="heat"
              :headers="[
                'started',
                'workload',
                'setting',
                'fitting',
                'lasts s',
                'W',
                'fan %',
                'settles °C',
                'low',
                'high',
                '°C/W',
                'low',
                'high',
              ]"
              :rows="rows"
            />
          </div>
          <div class="scroll-x">
            <table class="ledger" data-test="heat-logs">
              <thead>
                <tr>
                  <th>Run</th>
                  <th>Setting</th>
                  <th class="number">lasted</th>
                  <th class="number">W</th>
                  <th class="number">fan, %</th>
                  <th class="number">settles at, °C</th>
                  <th class="number">°C/W</th>
                  <th class="number">cooler’s time constant</th>
                  <th></th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="one in data.logs" :key="one.series_id" :class="{ chosen: one.run_id === data.trace?.run_id }">
                  <td>
                    <RouterLink :to="{ query: { ...$route.query, log: one.run_id } }">{{ one.workload }}</RouterLink>
                    <div class="quiet small">{{ moment(one.started_at) }}, fitting {{ one.fitting }}</div>
                  </td>
                  <td class="setting">{{ one.setting }}</td>
                  <td class="number figure">{{ span(one.lasts_s) }}</td>
                  <td class="number figure">{{ number(one.power_w, 0) }}</td>
                  <td class="number figure">{{ number(one.fan_percent, 0) }}</td>
                  <template v-if="one.settles_c && one.fits">
                    <td class="number"><IntervalFigure :of="one.settles_c" unit="" /></td>
                    <td class="number"><IntervalFigure v-if="one.resistance" :of="one.resistance" unit="" :decimals="3" /></td>
                    <td class="number estimate figure">{{ span(one.slow_s?.value) }}</td>
                  </template>
                  <td v-else colspan="3" class="quiet">{{ one.says.text }}</td>
                  <td class="open"><RouterLink :to="{ name: 'run', params: { id: one.run_id } }">Run</RouterLink></td>
                </tr>
              </tbody>
            </table>
          </div>
        </section>
      </template>
    </template>
  </LoadState>
</template>

<style scoped>
.two {
  grid-template-columns: minmax(0, 6fr) minmax(0, 5fr);
}
.setting {
  min-width: 96px;
}
.told {
  margin-top: 4px;
  font-size: 13px;
}
.differences {
  margin: 8px 0 0;
  padding-left: 18px;
}
.open {
  white-space: nowrap;
}
.chosen td {
  background: var(--wash);
}
</style>
