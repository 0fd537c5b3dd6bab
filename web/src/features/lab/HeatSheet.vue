<!-- Heat: where a log says the part settles, what the cooler is worth, and what a limit asks of it. -->
<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { type Interval, useHeat } from '../../api/lab'
import HeatChart from '../../charts/HeatChart.vue'
import { useRouteQuery } from '../../composables/useRouteQuery'
import { useStageCampaign } from '../../composables/useStageCampaign'
import IntervalFigure from '../../ui/IntervalFigure.vue'
import LoadState from '../../ui/LoadState.vue'
import NumberField from '../../ui/NumberField.vue'
import type { Column } from '../../ui/columns'
import DataTable from '../../ui/DataTable.vue'
import { counted, moment, number, span } from '../../ui/words/format'

const campaign = useStageCampaign()
const run = useRouteQuery('log')
const limit = ref<number | null>(null)
const room = ref<number | null>(null)
const asked = computed(() => ({ runId: run.value, limitC: limit.value, roomC: room.value }))
const { data, isPending, error, refetch } = useHeat(() => campaign.value.id, refDebounced(asked, 300))
type HeatLog = NonNullable<typeof data.value>['logs'][number]
const settled = (one: HeatLog): boolean => !!one.settles_c && one.fits
const bound = (key: string, value: Column<HeatLog>['value']): Column<HeatLog> => ({ key, title: key, value, onlyCopied: true })
const columns: Column<HeatLog>[] = [
  { key: 'started', title: 'Run', value: (one) => one.started_at },
  bound('workload', (one) => one.workload),
  { key: 'setting', title: 'Setting', value: (one) => one.setting },
  bound('build', (one) => one.build),
  { key: 'lasted', title: 'Lasted', unit: 's', number: true, value: (one) => one.lasts_s, text: (one) => number(one.lasts_s, 0) },
  { key: 'power', title: 'Power', unit: 'W', number: true, value: (one) => one.power_w, text: (one) => number(one.power_w, 0) },
  {
    key: 'fan',
    title: 'Fan',
    unit: '%',
    number: true,
    value: (one) => one.fan_percent,
    text: (one) => number(one.fan_percent, 0),
  },
  { key: 'settles', title: 'Settles at', unit: '°C', number: true, value: (one) => one.settles_c?.value },
  bound('settles at least, °C', (one) => one.settles_c?.low),
  bound('settles at most, °C', (one) => one.settles_c?.high),
  { key: 'resistance', title: 'Cooler', unit: '°C/W', number: true, value: (one) => one.resistance?.value },
  bound('cooler at least, °C/W', (one) => one.resistance?.low),
  bound('cooler at most, °C/W', (one) => one.resistance?.high),
  { key: 'slow', title: 'Time constant', number: true, value: (one) => one.slow_s?.value },
  { key: 'open', title: '', value: () => null },
]
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
        its power and fan help): attach a log to a run, or let the bench or the simulator make one.
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
                >Knows {{ counted(data.trace.learnt_from, 'earlier log') }} of this build.</template
              >
              <template v-else>No earlier log of this build to learn from.</template>
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
          <h2>Coolers and builds</h2>
          <p class="quiet">
            Degrees the part stands above the room for each watt. Where the fan was read: with the fan at
            {{ number(data.reference_fan, 0) }} %, so that builds compare at the same fan.
          </p>
          <p v-if="data.builds.length === 0" class="quiet">It takes a log with the part’s power, and the room’s temperature.</p>
          <table v-else class="ledger" data-test="builds">
            <tbody>
              <tr v-for="one in data.builds" :key="`${one.number} ${one.fan_read}`">
                <td class="quiet">build {{ one.number }}</td>
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
              Build {{ one.newer }} against build {{ one.older }} at {{ number(one.power_w, 0) }} W:
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
          </div>
          <DataTable
            name="heat"
            data-test="heat-logs"
            :rows="data.logs"
            :columns="columns"
            :row-key="(one) => one.series_id"
            :row-class="(one) => ({ chosen: one.run_id === data?.trace?.run_id })"
          >
            <template #started="{ row: one }">
              <RouterLink :to="{ query: { ...$route.query, log: one.run_id } }">{{ one.workload }}</RouterLink>
              <div class="quiet small when">{{ moment(one.started_at) }}, build {{ one.build }}</div>
            </template>
            <template #settles="{ row: one }">
              <IntervalFigure v-if="settled(one)" :of="one.settles_c!" unit="" />
              <span v-else class="quiet words">{{ one.says.text }}</span>
            </template>
            <template #resistance="{ row: one }">
              <IntervalFigure v-if="settled(one) && one.resistance" :of="one.resistance" unit="" :decimals="3" />
            </template>
            <template #slow="{ row: one }">
              <span v-if="settled(one)" class="estimate">{{ span(one.slow_s?.value) }}</span>
            </template>
            <template #open="{ row: one }">
              <RouterLink class="open" :to="{ name: 'run', params: { id: one.run_id } }">Run</RouterLink>
            </template>
          </DataTable>
        </section>
      </template>
    </template>
  </LoadState>
</template>

<style scoped>
.two {
  grid-template-columns: minmax(0, 6fr) minmax(0, 5fr);
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
.when {
  white-space: nowrap;
}
.words {
  display: inline-block;
  max-width: 30ch;
}
:deep(.chosen td) {
  background: var(--wash);
}
</style>
