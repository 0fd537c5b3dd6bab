<script setup lang="ts">
import { Button as AButton, message, Modal as AModal } from 'ant-design-vue'
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { useImportCampaign } from '../api/campaigns'
import { type PackagePlan as Plan, useImportPackage, usePlanPackage } from '../api/packages'
import ProblemList from '../parts/ProblemList.vue'
import { useProblems } from '../composables/useProblems'
import PackagePlan from './PackagePlan.vue'

const router = useRouter()
const input = ref<HTMLInputElement>()
const file = ref<File>()
const { problems, take, clear } = useProblems()
const { mutateAsync, isPending } = useImportCampaign()
const { mutateAsync: planIt, isPending: planning } = usePlanPackage()
const { mutateAsync: takeIn, isPending: taking } = useImportPackage()
/** What a package would bring in; shown before anything is written. */
const plan = ref<Plan | null>(null)
const copies = ref<string[]>([])
const something = (one: Plan): boolean =>
  one.campaigns.some((campaign) => campaign.state === 'new') || one.rigs.length > 0 || one.journal > 0 || copies.value.length > 0

async function bring(asCopy: boolean): Promise<void> {
  if (!file.value) return
  clear()
  try {
    const campaign = await mutateAsync({ file: file.value, asCopy })
    await router.push({ name: 'campaign', params: { id: campaign.id } })
  } catch (trouble) {
    take(trouble)
  }
}

async function look(): Promise<void> {
  if (!file.value) return
  clear()
  try {
    copies.value = []
    plan.value = await planIt(file.value)
  } catch (trouble) {
    take(trouble)
  }
}
async function bringPackage(): Promise<void> {
  if (!file.value) return
  try {
    const done = await takeIn({ file: file.value, copies: copies.value })
    plan.value = null
    void message.success(copies.value.length ? 'Taken in, the copies too.' : `${done.runs} runs taken in.`)
  } catch (trouble) {
    plan.value = null
    take(trouble)
  }
}

function chosen(event: Event): void {
  const target = event.target as HTMLInputElement
  file.value = target.files?.[0]
  target.value = ''
  void (file.value?.name.toLowerCase().endsWith('.zip') ? look() : bring(false))
}
</script>

<template>
  <input
    ref="input"
    class="visually-hidden"
    type="file"
    accept=".json,.zip,application/json,application/zip"
    tabindex="-1"
    aria-label="Campaign file or package"
    @change="chosen"
  />
  <AButton :loading="isPending || planning" @click="input?.click()">Import a file</AButton>
  <AModal :open="problems.length > 0" title="Not imported" @cancel="clear">
    <ProblemList :problems="problems" />
    <p class="after">Nothing was stored.</p>
    <template #footer>
      <AButton v-if="problems.some((p) => p.where === 'campaign')" type="primary" @click="bring(true)">
        Import as a copy
      </AButton>
      <AButton @click="clear">Close</AButton>
    </template>
  </AModal>
  <AModal :open="plan !== null" title="What is in this package" :width="720" @cancel="plan = null">
    <PackagePlan v-if="plan" v-model:copies="copies" :plan="plan" />
    <template #footer>
      <AButton v-if="plan && something(plan)" type="primary" :loading="taking" @click="bringPackage">{{
        copies.length ? 'Take in what is new, and the copies' : 'Take in what is new'
      }}</AButton>
      <AButton :disabled="taking" @click="plan = null">{{ plan && something(plan) ? 'Cancel' : 'Close' }}</AButton>
    </template>
  </AModal>
</template>

<style scoped>
.after {
  margin-top: 12px;
}
</style>
