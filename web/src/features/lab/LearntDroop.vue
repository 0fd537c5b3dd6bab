<!-- What the part's voltage loses under current, learnt from the campaign's logs, at each setting of the load line. -->
<script setup lang="ts">
import { computed } from 'vue'

import { inOneText } from '../../api/client'
import { useLearntDroop } from '../../api/lab'
import { useStageCampaign } from '../../composables/useStageCampaign'
import IntervalFigure from '../../ui/IntervalFigure.vue'
import LoadState from '../../ui/LoadState.vue'
import TableTools from '../../ui/TableTools.vue'
import { number } from '../../ui/words/format'

const campaign = useStageCampaign()
const { data, isPending, error, refetch } = useLearntDroop(() => campaign.value.id)
const millivolts = (volts: number): number => 1000 * volts
const table = computed(() =>
  (data.value?.lines ?? []).map((one) => [
    one.title,
    one.mohm.value,
    one.mohm.low,
    one.mohm.high,
    one.clock_mhz,
    one.no_load_v,
    one.arrives_v,
    millivolts(one.lost_v.value),
    one.least_a,
    one.most_a,
  ]),
)
</script>

<template>
  <section class="learnt" data-test="learnt-droop">
    <div class="line block">
      <h2>What arrives under load, from this campaign’s logs</h2>
      <TableTools
        v-if="data?.lines.length"
        name="droop"
        :headers="[
          'load line',
          'resistance mOhm',
          'at least mOhm',
          'at most mOhm',
          'clock MHz',
          'without load V',
          'at the highest current V',
          'lost mV',
          'lowest current seen A',
          'highest current seen A',
        ]"
        :rows="table"
      />
    </div>
    <LoadState :pending="isPending" :error="error" what="The droop" @again="refetch">
      <template v-if="data">
        <p v-if="data.refused.length" class="quiet">{{ inOneText(data.refused) }}</p>
        <template v-else>
          <div class="scroll-x">
            <table class="ledger">
              <thead>
                <tr>
                  <th>Setting</th>
                  <th class="number">resistance, mΩ</th>
                  <th class="number">clock, MHz</th>
                  <th class="number">without load, V</th>
                  <th class="number">at {{ number(data.current_a, 0) }} A, V</th>
                  <th class="number">lost, mV</th>
                  <th class="number">currents seen, A</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="one in data.lines" :key="one.title">
                  <td>{{ one.title || 'as it is' }}</td>
                  <td class="number"><IntervalFigure :of="one.mohm" unit="" :decimals="2" /></td>
                  <td class="number figure">{{ number(one.clock_mhz, 0) }}</td>
                  <td class="number figure estimate">{{ number(one.no_load_v, 3) }}</td>
                  <td class="number figure estimate">{{ number(one.arrives_v, 3) }}</td>
                  <td class="number figure estimate">{{ number(millivolts(one.lost_v.value), 0) }}</td>
                  <td class="number figure">{{ number(one.least_a, 0) }} to {{ number(one.most_a, 0) }}</td>
                </tr>
              </tbody>
            </table>
          </div>
          <p v-if="!data.falls" class="caution">
            The voltage that was read does not fall with the current. It may be the voltage asked for, not the one that arrives at
            the part.
          </p>
          <p v-else-if="!data.fits" class="caution">
            Something besides current and clock moves this voltage; take the figures as rough.
          </p>
          <p class="quiet small">
            From {{ data.logs }} {{ data.logs === 1 ? 'log' : 'logs' }}: voltage against current at the same clock.
            {{ data.read ? 'The current is as it was read.' : 'The current is power over voltage.' }}
          </p>
        </template>
      </template>
    </LoadState>
  </section>
</template>

<style scoped>
.learnt {
  margin-top: 24px;
}
</style>
