<!-- What results are judged by: smallest gain, resolution, age of the baseline, limits, weights, price. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { ref, watch } from 'vue'

import type { Campaign } from '../api/campaigns'
import { useSetWhatCounts, type WhatCountsIn } from '../api/whatCounts'
import NumberField from './NumberField.vue'
import ProblemList from './ProblemList.vue'
import { useProblems } from '../composables/useProblems'
import TextField from './TextField.vue'
import SideSheet from './SideSheet.vue'

const props = defineProps<{ campaign: Campaign }>()
const open = defineModel<boolean>('open', { required: true })
const { mutateAsync, isPending } = useSetWhatCounts()
const { problems, take, clear, at } = useProblems()

interface Draft {
  smallest: number | null
  wished: number | null
  stale: number | null
  temp: number | null
  power: number | null
  price: number | null
  currency: string
  weights: Record<number, number | null>
}
const draft = ref<Draft>({
  smallest: null,
  wished: null,
  stale: null,
  temp: null,
  power: null,
  price: null,
  currency: '',
  weights: {},
})

/** What counted when the form was opened. */
const seen = ref<WhatCountsIn['seen']>(null)
watch(open, (isOpen) => {
  if (!isOpen) return
  clear()
  const c = props.campaign
  const { smallest_gain, wished_resolution, stale_days, temp_limit_c, power_limit_w, price, currency } = c
  const weights = Object.fromEntries(c.workloads.map((one) => [one.id, c.weights[String(one.id)] ?? 1]))
  seen.value = { smallest_gain, wished_resolution, stale_days, temp_limit_c, power_limit_w, price, currency, weights }
  draft.value = {
    smallest: Number((c.smallest_gain * 100).toFixed(4)),
    wished: Number((c.wished_resolution * 100).toFixed(4)),
    stale: c.stale_days,
    temp: c.temp_limit_c,
    power: c.power_limit_w,
    price: c.price,
    currency: c.currency,
    weights: Object.fromEntries(c.workloads.map((workload) => [workload.id, c.weights[String(workload.id)] ?? 1])),
  }
})

async function save(): Promise<void> {
  clear()
  const { smallest, wished, stale, temp, power, price, currency, weights } = draft.value
  try {
    await mutateAsync({
      campaignId: props.campaign.id,
      body: {
        seen: seen.value,
        smallest_gain: (smallest ?? 0) / 100,
        wished_resolution: (wished ?? 0) / 100,
        stale_days: stale ?? 0,
        temp_limit_c: temp,
        power_limit_w: power,
        price,
        currency,
        weights: Object.fromEntries(Object.entries(weights).map(([id, weight]) => [id, weight ?? 0])),
      },
    })
    open.value = false
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <SideSheet v-model:open="open" title="What counts" :width="440">
    <form class="form-grid" @submit.prevent="save">
      <NumberField v-model="draft.smallest" label="Smallest gain that matters" unit="%" :trouble="at('smallest_gain')" />
      <NumberField v-model="draft.wished" label="The baseline should tell apart" unit="%" :trouble="at('wished_resolution')" />
      <NumberField v-model="draft.stale" label="A baseline is fresh for" unit="days" :trouble="at('stale_days')" />
      <span></span>
      <NumberField v-model="draft.temp" label="Temperature limit" unit="°C" :trouble="at('temp_limit_c')" />
      <NumberField v-model="draft.power" label="Power limit at stock" unit="W" :trouble="at('power_limit_w')" />
      <NumberField v-model="draft.price" label="Price or resale value" :trouble="at('price')" />
      <TextField v-model="draft.currency" label="Currency" :most="8" />
      <h2 class="wide">Weights in the overall gain</h2>
      <NumberField
        v-for="workload in campaign.workloads"
        :key="workload.id"
        v-model="draft.weights[workload.id]!"
        :label="workload.name"
        :trouble="at(`weights.${workload.id}`)"
      />
      <p class="wide quiet">A weight of 0 leaves a workload out of the overall gain; it is still shown.</p>
      <ProblemList
        :problems="problems.filter((problem) => !/^(weights\.|smallest|wished|stale|temp|power|price)/.test(problem.where))"
        class="wide"
      />
      <AButton type="primary" html-type="submit" :loading="isPending" class="wide save">Save</AButton>
    </form>
  </SideSheet>
</template>

<style scoped>
.save {
  justify-self: start;
}
</style>
