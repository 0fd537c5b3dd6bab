<!-- Trade-off: what saving costs by each way, at the same speed and at the same power. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { problemsOf } from '../../api/client'
import { useResponse } from '../../api/lab'
import ResponseChart from '../../charts/ResponseChart.vue'
import { useStageCampaign } from '../../composables/useStageCampaign'
import { useTryOut } from '../../composables/useTryOut'
import IntervalFigure from '../../ui/IntervalFigure.vue'
import LoadState from '../../ui/LoadState.vue'
import { gain, gainRange, number, share } from '../../ui/words/format'
import { useTryIt } from './useTryIt'

const campaign = useStageCampaign()
const { tryIt, trying, failed } = useTryIt(campaign)
const tryOut = useTryOut(campaign)
const notRun = ref('')
/** All that is measured, at a setting not tried yet. */
async function run(values: Record<string, number>): Promise<void> {
  notRun.value = ''
  const workloadIds = campaign.value.workloads.map((one) => one.id)
  try {
    await tryOut({ values, workloadId: workloadIds[0], workloadIds, repeats: 3 })
  } catch (trouble) {
    notRun.value = problemsOf(trouble)
      .map((one) => `${one.what} ${one.todo}`)
      .join(' ')
  }
}
const { data, isPending, error, refetch } = useResponse(() => campaign.value.id)
const cap = computed(() => data.value?.ways.find((one) => one.way === 'cap the power')?.response)
const volt = computed(() => data.value?.ways.find((one) => one.way === 'hold a voltage'))
const missing = computed(() =>
  [!cap.value && 'two lower power limits', !volt.value && 'a lower voltage'].filter(Boolean).join(' and '),
)
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The trade-off" @again="refetch">
    <template v-if="data">
      <p v-if="data.stock_w === null" class="sheet empty">
        No run at stock has its power read yet. Speed against power needs watts at stock and at each setting, by one instrument.
      </p>
      <template v-else>
        <ResponseChart :view="data" />
        <p v-if="missing" class="quiet">
          To set both ways of saving side by side it takes runs at {{ missing }}, in every workload that counts, with their power.
        </p>
        <p v-if="cap?.knee_x != null" data-test="knee">
          Above <strong class="estimate">{{ number(cap.knee_x, 0) }} W</strong> a further percent of power brings less than half a
          percent of speed.
        </p>
        <p v-else-if="cap" class="quiet">
          All the way up to {{ number(cap.curve.at(-1)!.x, 0) }} W a further percent of power brings at least half a percent of
          speed.
        </p>
        <section v-if="data.untried.length" class="block">
          <h2>Not tried yet, and worth a run</h2>
          <table class="ledger" data-test="untried">
            <thead>
              <tr>
                <th>Setting</th>
                <th class="number">W</th>
                <th class="number">speed against stock</th>
                <th></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in data.untried" :key="one.title">
                <td>{{ one.title }}</td>
                <td class="number"><IntervalFigure :of="one.power_w" unit="" :decimals="0" /></td>
                <td class="number figure estimate">
                  {{ gain(one.ratio.value) }} <span class="quiet">{{ gainRange(one.ratio.low, one.ratio.high) }}</span>
                </td>
                <td class="acts">
                  <AButton size="small" :loading="trying" @click="tryIt(one.values)">Try this one</AButton>
                  <AButton v-if="campaign.simulator" size="small" @click="run(one.values)">Run it, 3 times each</AButton>
                </td>
              </tr>
            </tbody>
          </table>
          <p v-if="failed || notRun" class="warning">{{ failed || notRun }}</p>
          <p class="quiet small">
            Predicted from the laws of power and clock, and from what should hold by the edge; none beaten by another or by what
            was measured<template v-if="data.least_speed != null"
              >, first the thriftiest that keeps {{ share(data.least_speed, 0) }} of stock’s speed</template
            >.
          </p>
        </section>
        <div class="two">
          <section v-if="data.equal_speed.length">
            <h2>At the same speed</h2>
            <table class="ledger" data-test="equal-speed">
              <thead>
                <tr>
                  <th>Speed against stock</th>
                  <th class="number">power limit, W</th>
                  <th class="number">lower voltage, W</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="one in data.equal_speed" :key="one.ratio">
                  <td>at least {{ share(one.ratio, 0) }}</td>
                  <td class="number figure estimate">{{ number(one.first_x, 0) }}</td>
                  <td class="number figure estimate">{{ number(one.second_x, 0) }}</td>
                </tr>
              </tbody>
            </table>
            <p class="quiet small">
              Power limit: by the curve. Lower voltage: the thriftiest setting tried that reaches it; a dash where none does.
            </p>
          </section>
          <section v-if="data.equal_power.length">
            <h2>At the same power</h2>
            <table class="ledger" data-test="equal-power">
              <thead>
                <tr>
                  <th>Power</th>
                  <th>power limit</th>
                  <th>lower voltage</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="one in data.equal_power" :key="one.x">
                  <td class="figure">{{ number(one.x, 0) }} W</td>
                  <td v-for="way in [one.first, one.second]" :key="way?.value" class="figure estimate">
                    <template v-if="way"
                      >{{ gain(way.value) }} <span class="quiet">{{ gainRange(way.low, way.high) }}</span></template
                    >
                    <span v-else class="quiet">none so low</span>
                  </td>
                </tr>
              </tbody>
            </table>
          </section>
        </div>
      </template>
    </template>
  </LoadState>
</template>

<style scoped>
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
}
.two {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  margin-top: 16px;
}
</style>
