<!-- What reads on this rig: how far it is trusted, what corrects it, which of several counts. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { Button as AButton, message, Select as ASelect } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { whyOf } from '../../api/client'
import { type Instrument, useSetCounting } from '../../api/instruments'
import { useStageCampaign } from '../../composables/useStageCampaign'
import { day, exact } from '../../ui/words/format'
import AgreementPanel from './AgreementPanel.vue'
import InstrumentForm from './InstrumentForm.vue'
import TermWord from '../../ui/TermWord.vue'

const campaign = useStageCampaign()
const { mutateAsync: setCounting } = useSetCounting()
const instruments = computed(() => campaign.value.instruments)
const open = ref(false)
const edited = ref<Instrument>()
const comparing = ref(false)

function edit(instrument?: Instrument): void {
  edited.value = instrument
  open.value = true
}
const unitOf = (quantity: string): string => registry.value.quantities.find((one) => one.quantity === quantity)?.unit ?? ''

/** How a reading is corrected, as people write it. */
function correction(one: Instrument): string {
  const factor = one.factor === 1 ? '' : `× ${exact(one.factor ?? 1)} `
  const offset = one.offset ? `${one.offset > 0 ? '+' : ''}${exact(one.offset)} ${unitOf(one.quantity)}` : ''
  const sd = [one.factor_sd ? `factor ± ${exact(one.factor_sd)}` : '', one.offset_sd ? `offset ± ${exact(one.offset_sd)}` : '']
  return [`${factor}${offset}`.trim() || 'none', ...sd].filter(Boolean).join(', ')
}
const trust = (one: Instrument): string =>
  one.trust === 'trusted' ? 'trusted' : `${one.trust}${one.trust_since ? ` since ${day(one.trust_since)}` : ''}: ${one.trust_why}`

/** Quantities that several instruments read: there it matters which one counts. */
const several = computed(() =>
  [...new Set(instruments.value.map((one) => one.quantity))].filter(
    (quantity) => instruments.value.filter((one) => one.quantity === quantity).length > 1,
  ),
)
const choices = (quantity: string) => [
  { value: 0, label: `the older one: ${instruments.value.find((one) => one.quantity === quantity)?.name}` },
  ...instruments.value.filter((one) => one.quantity === quantity).map((one) => ({ value: one.id, label: one.name })),
]
async function choose(quantity: string, id: number): Promise<void> {
  const counting = { ...campaign.value.counting, [quantity]: id }
  if (!id) delete counting[quantity]
  try {
    await setCounting({ campaignId: campaign.value.id, counting })
    void message.success('Every answer of this campaign now uses it.')
  } catch (trouble) {
    void message.error(whyOf(trouble))
  }
}
</script>

<template>
  <section aria-label="Instruments">
    <div class="head">
      <h2><TermWord term="Instrument">Instruments</TermWord></h2>
      <AButton v-if="instruments.length > 1" size="small" @click="comparing = true">Compare two</AButton>
      <AButton size="small" @click="edit()">Add an instrument</AButton>
    </div>
    <p class="quiet">
      Each reading is stored as it was read. A correction is applied when the reading is used, and shown; readings of an
      instrument marked wrong stay but no longer count.
    </p>
    <p v-if="instruments.length === 0" class="quiet">
      None described yet. One is added by itself when power is logged with where it was read.
    </p>
    <div v-else class="scroll-x">
      <table class="ledger">
        <thead>
          <tr>
            <th>Instrument</th>
            <th>Reads</th>
            <th>Correction</th>
            <th>Trust</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in instruments" :key="one.id">
            <td>
              {{ one.name }} <span class="quiet">{{ one.place }}</span>
            </td>
            <td>
              {{ one.quantity }} <span class="quiet">of the {{ one.part }}</span>
            </td>
            <td class="figure">{{ correction(one) }}</td>
            <td :class="{ caution: one.trust === 'suspect', warning: one.trust === 'wrong' }">{{ trust(one) }}</td>
            <td class="acts">
              <AButton size="small" type="text" :aria-label="`Change ${one.name}`" @click="edit(one)">Change</AButton>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <label v-for="quantity in several" :key="quantity" class="counts">
      <span>For {{ quantity }} this campaign counts</span>
      <ASelect
        :value="campaign.counting[quantity] ?? 0"
        :options="choices(quantity)"
        :aria-label="`Instrument that counts for ${quantity}`"
        style="width: 280px"
        @change="(id) => choose(quantity, Number(id))"
      />
    </label>
    <InstrumentForm v-model:open="open" :rig-id="campaign.rig_id" :instrument="edited" :others="instruments" />
    <AgreementPanel v-if="comparing" v-model:open="comparing" :rig-id="campaign.rig_id" :instruments="instruments" />
  </section>
</template>

<style scoped>
th {
  overflow-wrap: normal;
}
.head {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.head h2 {
  flex: 1;
}
.acts {
  text-align: right;
}
.counts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
</style>
