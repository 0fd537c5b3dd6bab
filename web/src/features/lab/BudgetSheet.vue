<!-- Budget: watts that processor and graphics share: who gets what, what a watt moved brings, which split pays. -->
<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { inOneText } from '../../api/client'
import { type Interval, useBudget } from '../../api/lab'
import BudgetChart from '../../charts/BudgetChart.vue'
import { useStageCampaign } from '../../composables/useStageCampaign'
import ChoiceField from '../../ui/ChoiceField.vue'
import LoadState from '../../ui/LoadState.vue'
import type { Column } from '../../ui/columns'
import DataTable from '../../ui/DataTable.vue'
import MovedWatt from './MovedWatt.vue'
import { gain, number, share } from '../../ui/words/format'
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
type BudgetRow = (typeof rows.value)[number]
const watts = (value: number | null | undefined): string => (value == null ? '–' : number(value, 1))
const ratio = (value: number | null | undefined): string => (value == null ? '–' : gain(value))
const columns = computed<Column<BudgetRow>[]>(() => [
  { key: 'setting', title: 'Setting', value: (one) => one.title },
  {
    key: 'first',
    title: 'Processor',
    unit: 'W',
    number: true,
    value: (one) => one.cell.first_w,
    text: (one) => watts(one.cell.first_w),
    hidden: !roomy.value,
  },
  {
    key: 'second',
    title: 'Graphics',
    unit: 'W',
    number: true,
    value: (one) => one.cell.second_w,
    text: (one) => watts(one.cell.second_w),
    hidden: !roomy.value,
  },
  { key: 'rest', title: 'Rest', unit: 'W', number: true, value: (one) => one.cell.rest_w, onlyCopied: true },
  {
    key: 'speed',
    title: `Speed in ${law.value?.name}`,
    number: true,
    value: (one) => one.cell.ratio,
    text: (one) => ratio(one.cell.ratio),
  },
  { key: 'toFirst', title: '1 W more for the processor', number: true, value: (one) => one.cell.to_first?.value },
  { key: 'toSecond', title: '1 W more for the graphics', number: true, value: (one) => one.cell.to_second?.value },
  { key: 'split', title: 'Best split of these watts', value: (one) => one.cell.split?.gain.value, hidden: !roomy.value },
  {
    key: 'overall',
    title: 'Overall speed',
    number: true,
    value: (one) => one.ratio,
    text: (one) => ratio(one.ratio),
    hidden: !roomy.value,
  },
  { key: 'limit', title: 'Limit on one part that pays most', value: (one) => one.part_limit?.says.text },
  { key: 'brings', title: 'Brings', number: true, value: (one) => one.part_limit?.gain.value },
  { key: 'acts', title: '', value: () => null },
])
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
                Speed and watts lie {{ number(100 * law.misfit, 1) }} % from the law: it does not fit, so nothing is predicted
                from it.
              </p>
              <p v-else>
                The processor decides <em class="figure">{{ share(law.first_share.value, 0) }}</em>
                <span class="quiet"> ({{ share(law.first_share.low, 0) }} to {{ share(law.first_share.high, 0) }})</span> of the
                pace, the graphics the rest, where both get what they had on average.
              </p>
            </template>
            <p v-if="asked?.part_limit" data-test="budget-goal">
              For the goal, of the settings here: <strong>{{ asked.title }}</strong>, with {{ asked.part_limit.says.text }}.
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
              predicted beyond what a part was seen to draw; a better split only where it surely is.
            </p>
          </section>
        </div>
        <h2 class="block">Where a watt pays</h2>
        <DataTable
          :key="`${law?.name} ${roomy}`"
          name="budget"
          data-test="budget"
          :rows="rows"
          :columns="columns"
          :row-key="(one) => one.setting_id"
        >
          <template #toFirst="{ row: one }">
            <span v-if="!one.cell.held" class="quiet words">the shared limit does not hold it</span>
            <MovedWatt v-else :of="one.cell.to_first" />
          </template>
          <template #toSecond="{ row: one }"><MovedWatt v-if="one.cell.held" :of="one.cell.to_second" /></template>
          <template #split="{ row: one }">
            <span class="figure estimate"
              ><template v-if="one.cell.split && pays(one.cell.split.gain)"
                >{{ number(one.cell.split.first_w, 0) }} + {{ number(one.cell.split.second_w, 0) }} W:
                {{ gain(one.cell.split.gain.value) }}</template
              >
              <template v-else-if="one.cell.split">as it is</template></span
            >
          </template>
          <template #limit="{ row: one }">
            <template v-if="one.part_limit">{{ one.part_limit.says.text }}</template><span v-else class="quiet">none</span>
          </template>
          <template #brings="{ row: one }"><MovedWatt v-if="one.part_limit" :of="one.part_limit.gain" /></template>
          <template #acts="{ row: one }">
            <AButton
              v-if="one.part_limit && Object.keys(one.part_limit.values).length"
              size="small"
              :loading="trying"
              :aria-label="`Try it: ${one.title} with ${one.part_limit.says.text}`"
              @click="tryIt(one.part_limit.values)"
              >Try it</AButton
            >
          </template>
        </DataTable>
        <p v-if="rows.find((one) => one.part_limit?.no_knob)" class="caution">
          {{ rows.find((one) => one.part_limit?.no_knob)!.part_limit!.no_knob!.text }}
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
.two {
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
}
</style>
