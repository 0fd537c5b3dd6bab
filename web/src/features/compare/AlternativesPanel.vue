<!-- Keep stock, tune, or buy: what each gives against stock, and what each percent of it costs. -->
<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import { useAlternatives } from '../../api/goal'
import { useStageCampaign } from '../../composables/useStageCampaign'
import LoadState from '../../ui/LoadState.vue'
import TableTools from '../../ui/TableTools.vue'
import { gain, gainRange, number } from '../../ui/words/format'

const campaign = useStageCampaign()
const { data, isPending, error, refetch } = useAlternatives(() => campaign.value.id)
const headers = ['alternative', 'speed against stock', 'low', 'high', 'price', 'price of each percent more']
const rows = computed(() =>
  (data.value ?? []).map((one) => [one.name.text, one.ratio, one.low, one.high, one.price, one.per_percent]),
)
</script>

<template>
  <section aria-label="Alternatives" data-test="alternatives">
    <div class="head">
      <h2>Keep, tune or buy</h2>
      <TableTools :name="`${campaign.name} alternatives`" :headers="headers" :rows="rows" />
    </div>
    <LoadState :pending="isPending" :error="error" what="The alternatives" @again="refetch">
      <div class="scroll-x">
        <table class="ledger">
          <thead>
            <tr>
              <th>Alternative</th>
              <th class="number">Overall speed against stock</th>
              <th class="number">Price</th>
              <th class="number">Each percent more</th>
              <th>What it means</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in data" :key="one.name.text">
              <td>
                <RouterLink
                  v-if="one.kind === 'tune'"
                  :to="{ name: 'Climb', params: { id: campaign.id }, query: { setting: one.setting_id } }"
                  >{{ one.name.text }}</RouterLink><template v-else>{{ one.name.text }}</template>
              </td>
              <td class="number figure">
                <span :class="{ estimate: one.low != null }">{{ gain(one.ratio) }}</span>
                <span v-if="one.low != null && one.high != null" class="quiet estimate range">{{
                  gainRange(one.low, one.high)
                }}</span>
              </td>
              <td class="number figure">
                {{ one.price == null ? 'not typed' : one.price === 0 ? 'nothing' : number(one.price, 2) }}
              </td>
              <td class="number figure">{{ one.per_percent == null ? '–' : number(one.per_percent, 2) }}</td>
              <td class="quiet">{{ one.says.text }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="quiet small">Prices in the currency in which the targets were typed; bench time and power are not in them.</p>
    </LoadState>
  </section>
</template>

<style scoped>
section {
  margin-top: 24px;
}
.head {
  display: flex;
  gap: 16px;
  align-items: baseline;
}
.range {
  margin-left: 8px;
  font-size: 12px;
}
</style>
