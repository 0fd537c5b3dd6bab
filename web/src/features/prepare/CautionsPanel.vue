<!-- Where this campaign can hurt someone or break something; a clear yes to each, kept with its date; two sums. -->
<script setup lang="ts">
import { Button as AButton, message } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { whyOf } from '../../api/client'
import { useCautions, useConnectors, useOxygen, useSayYes } from '../../api/journal'
import { useProblems } from '../../composables/useProblems'
import { useStageCampaign } from '../../composables/useStageCampaign'
import ManyField from '../../ui/ManyField.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { day } from '../../ui/words/format'

const campaign = useStageCampaign()
const { data } = useCautions(() => campaign.value.id)
const { mutateAsync: sayYes } = useSayYes()
const oxygen = useOxygen()
const connectors = useConnectors()
const { problems, take, clear } = useProblems()
const room = ref<number | null>(null)
const litres = ref<number | null>(null)
const watts = ref<number | null>(null)
const slot = ref<number | null>(null)
const plugs = ref<string[]>(['8-pin', '8-pin'])
const known = ['6-pin', '8-pin', '12+4-pin'].map((value) => ({ value, label: value }))
const cold = computed(() => data.value?.cautions.some((one) => one.caution.key === 'extreme cold'))
const open = computed(() => (data.value?.cautions ?? []).filter((one) => !one.said_at && !one.caution.never).length)

async function accept(key: string): Promise<void> {
  try {
    await sayYes({ campaignId: campaign.value.id, key })
  } catch (trouble) {
    void message.error(whyOf(trouble))
  }
}
async function sum(what: Promise<unknown>): Promise<void> {
  clear()
  try {
    await what
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <section id="cautions" aria-label="Cautions" data-test="cautions">
    <h2>Cautions</h2>
    <template v-if="data">
      <p class="quiet">{{ open ? `${open} without a yes yet. ` : '' }}{{ data.first }}</p>
      <details v-for="one in data.cautions" :key="one.caution.key">
        <summary>
          <strong :class="{ warning: !one.said_at }">{{ one.caution.title }}</strong>
          <span v-if="one.said_at" class="quiet">{{ ' ' }}yes on {{ day(one.said_at) }}</span>
        </summary>
        <p>{{ one.caution.why }}</p>
        <p>{{ one.caution.people }}</p>
        <p v-if="one.caution.unknown" class="quiet">{{ one.caution.unknown }}</p>
        <AButton v-if="!one.said_at && !one.caution.never" size="small" @click="accept(one.caution.key)"
          >Yes, I have read this and will act by it</AButton
        >
      </details>
      <details>
        <summary>Load on power connectors</summary>
        <form
          class="sum"
          @submit.prevent="sum(connectors.mutateAsync({ watts: watts ?? 0, slot_w: slot ?? 0, connectors: plugs }))"
        >
          <NumberField v-model="watts" label="The card draws" unit="W" width="120px" />
          <NumberField v-model="slot" label="of it through the slot" unit="W" hint="0" width="150px" />
          <ManyField v-model="plugs" label="Connectors" :options="known" class="plugs" />
          <AButton html-type="submit">Work it out</AButton>
        </form>
        <p v-if="connectors.data.value" data-test="connector-sum">{{ connectors.data.value.text }}</p>
      </details>
      <details v-if="cold">
        <summary>Oxygen in the room after liquid nitrogen has boiled off</summary>
        <form class="sum" @submit.prevent="sum(oxygen.mutateAsync({ room_m3: room ?? 0, litres: litres ?? 0 }))">
          <NumberField v-model="room" label="Room" unit="m³" width="120px" />
          <NumberField v-model="litres" label="Liquid nitrogen" unit="L" width="150px" />
          <AButton html-type="submit">Work it out</AButton>
        </form>
        <p class="quiet">20.95 % × (V − 0.694 × L) / V, with no air coming in.</p>
        <p v-if="oxygen.data.value" :class="{ warning: oxygen.data.value.below }">{{ oxygen.data.value.text }}</p>
      </details>
      <ProblemList :problems="problems" title="Not worked out:" />
    </template>
  </section>
</template>

<style scoped>
details {
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}
details p {
  margin: 4px 0;
}
.sum {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: end;
  margin: 8px 0;
}
.plugs {
  flex: 1;
  min-width: 160px;
}
</style>
