<!-- Budget: watts that processor and graphics share: who gets what, what a watt moved brings, which split pays. -->
<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { inOneText } from '../../api/client'
import { type Interval, useBudget } from '../../api/lab'
import BudgetChart from '../../charts/BudgetChart.vue'
import { useStageCampaign } from '../../composables/useStageCampaign'
import ChoiceField from '../../parts/ChoiceField.vue'
import LoadState from '../../parts/LoadState.vue'
import TableTools from '../../parts/TableTools.vue'
import { gain, gainRange, number, share } from '../../words/format'
import { useTryIt } from './useTryIt'

const campaign = useStageCampaign()
const { tryIt, trying, failed } = useTryIt(campaign)
const { data, isPending, error, refetch } = useBudget(() => campaign.value.id)
const roomy = useMediaQuery('(min-width: 1001px)')
const picked = ref<number>()
const workloads = computed(() => data.value?.workloads.map((one) => ({ value: one.id, label: one.name })) ?? [])
const chosen = computed({
  // the one in which both parts have most to do tells most
  get: () =>
    picked.value ?? [...(data.value?.workloads ?? [])].sort((a, b) => evenness(b.first_share) - evenness(a.first_share))[0]?.id,
  set: (value) => (picked.value = value),
})
const evenness = (of: Interval | null | undefined): number => (of ? -Math.abs(of.value - 0.5) : -1)
const law = computed(() => data.value?.workloads.find((one) => one.id === chosen.value))
const rows = computed(() =>
  (data.value?.rows ?? []).flatMap((row) => {
    const cell = row.cells.find((one) => one.workload_id === chosen.value)
    return cell ? [{ ...row, cell }] : []
  }),
)
const asked = computed(() => data.value?.rows.find((one) => one.setting_id === data.value?.goal_at))
const pays = (of: Interval | null | undefined): boolean => !!of && of.low > 1
const table = computed(() =>
  rows.value.map((one) => [
    one.title,
    one.cell.first_w,
    one.cell.second_w,
    one.cell.rest_w,
    one.cell.ratio,
    one.cell.to_first?.value,
    one.cell.to_second?.value,
    one.ratio,
    one.part_limit?.says,
    one.part_limit?.gain.value,
  ]),
)
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The budget" @again="refetch">
    <template v-if="data">
      <p v-if="data.refused.length" class="sheet empty">{{ inOneText(data.refused) }}</p>
      <template v-else-if="chosen !== undefined">
        <div class="two">
          <section>
            <ChoiceField v-model="chosen" label="Workload" :options="workloads" class="wide" />
            <BudgetChart :view="data" :workload-id="chosen" />
          </section>
          <section data-test="budget-law">
            <h2>What the watts do here</h2>
            <p v-if="law?.why.length" class="caution">{{ inOneText(law.why) }}</p>
            <template v-else-if="law?.first_share">
              <p v-if="!law.fits" class="warning">
                Speed and watts lie {{ number(100 * law.misfit, 1) }} % from the law: it does not fit, so nothing is foretold from
                it.
              </p>
              <p v-else>
                The processor decides <em class="figure">{{ share(law.first_share.value, 0) }}</em>
                <span class="quiet"> ({{ share(law.first_share.low, 0) }} to {{ share(law.first_share.high, 0) }})</span> of the
                pace, the graphics the rest, where both get what they had on average.
              </p>
            </template>
            <p v-if="asked?.part_limit" data-test="budget-goal">
              For the goal, of the settings here: <strong>{{ asked.title }}</strong>, with {{ asked.part_limit.says }}.
            </p>
            <p v-else-if="asked" data-test="budget-goal">
              For the goal, of the settings here: <strong>{{ asked.title }}</strong>, the split as it is.
            </p>
            <p v-else class="quiet">No setting here meets the goal’s watts or speed, with the best split either.</p>
            <p v-if="data.test" data-test="budget-test">
              Only the shared limit was turned so far, which tells little of the split. {{ data.test.title }} would tell more, in
              each workload.
              <AButton size="small" :loading="trying" @click="tryIt(data.test.values)">Try it</AButton>
            </p>
            <p class="quiet small">
              Fitted from how speed went with the watts of both. A watt more for one part is a watt less for the other. Nothing is
              foretold beyond what a part was seen to draw; a better split only where it surely is.
            </p>
          </section>
        </div>
        <div class="line block">
          <h2>Where a watt pays</h2>
          <TableTools
            name="budget"
            :headers="[
              'setting',
              'processor W',
              'graphics W',
              'rest W',
              'speed ratio',
              'a watt more for the processor, ratio',
              'a watt more for the graphics, ratio',
              'overall ratio',
              'limit on one part',
              'gain ratio',
            ]"
            :rows="table"
          />
        </div>
        <div class="scroll-x">
          <table class="ledger" data-test="budget">
            <thead>
              <tr>
                <th></th>
                <th :colspan="roomy ? 6 : 3">{{ law?.name }}</th>
                <th :colspan="roomy ? 4 : 3">all workloads</th>
              </tr>
              <tr>
                <th>Setting</th>
                <th class="number roomy">processor, W</th>
                <th class="number roomy">graphics, W</th>
                <th class="number">speed</th>
                <th>a watt more for the processor</th>
                <th>a watt more for the graphics</th>
                <th class="roomy">best split of these watts</th>
                <th class="number roomy">speed</th>
                <th>limit on one part that pays most</th>
                <th class="number">brings</th>
                <th></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in rows" :key="one.setting_id">
                <td>{{ one.title }}</td>
                <td class="number figure roomy">{{ number(one.cell.first_w, 1) }}</td>
                <td class="number figure roomy">{{ number(one.cell.second_w, 1) }}</td>
                <td class="number figure">{{ one.cell.ratio == null ? '–' : gain(one.cell.ratio) }}</td>
                <template v-if="one.cell.held">
                  <td v-for="(moved, at) in [one.cell.to_first, one.cell.to_second]" :key="at" class="figure estimate">
                    <template v-if="moved"
                      >{{ gain(moved.value) }} <span class="quiet">{{ gainRange(moved.low, moved.high) }}</span></template
                    >
                    <template v-else>–</template>
                  </td>
                </template>
                <td v-else colspan="2" class="quiet">the shared limit does not hold it</td>
                <td class="figure estimate roomy">
                  <template v-if="one.cell.split && pays(one.cell.split.gain)"
                    >{{ number(one.cell.split.first_w, 0) }} + {{ number(one.cell.split.second_w, 0) }} W:
                    {{ gain(one.cell.split.gain.value) }}</template
                  >
                  <template v-else-if="one.cell.split">as it is</template>
                </td>
                <td class="number figure roomy">{{ one.ratio == null ? '–' : gain(one.ratio) }}</td>
                <td>
                  <template v-if="one.part_limit">{{ one.part_limit.says }}</template><span v-else class="quiet">none</span>
                </td>
                <td class="number figure estimate">
                  <template v-if="one.part_limit"
                    >{{ gain(one.part_limit.gain.value) }}
                    <span class="quiet">{{ gainRange(one.part_limit.gain.low, one.part_limit.gain.high) }}</span></template
                  >
                </td>
                <td>
                  <AButton
                    v-if="one.part_limit && Object.keys(one.part_limit.values).length"
                    size="small"
                    :loading="trying"
                    :aria-label="`Try it: ${one.title} with ${one.part_limit.says}`"
                    @click="tryIt(one.part_limit.values)"
                    >Try it</AButton
                  >
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-if="rows.find((one) => one.part_limit?.no_knob)" class="caution">
          {{ rows.find((one) => one.part_limit?.no_knob)!.part_limit!.no_knob }}
        </p>
        <p v-if="failed" class="warning">{{ failed }}</p>
      </template>
    </template>
  </LoadState>
</template>

<style scoped>
.wide {
  max-width: 260px;
}
.ledger th {
  overflow-wrap: normal;
}
.ledger th.number {
  white-space: nowrap;
}
.ledger td.estimate .quiet {
  display: block;
}
.ledger td:first-child,
.ledger td:nth-last-child(3) {
  min-width: 110px;
  overflow-wrap: normal;
}
@media (max-width: 1000px) {
  .roomy {
    display: none;
  }
}
.two {
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
}
</style>
