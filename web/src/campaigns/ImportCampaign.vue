<script setup lang="ts">
import { Button as AButton, Modal as AModal } from 'ant-design-vue'
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { useImportCampaign } from '../api/campaigns'
import ProblemList from '../parts/ProblemList.vue'
import { useProblems } from '../composables/useProblems'

const router = useRouter()
const input = ref<HTMLInputElement>()
const file = ref<File>()
const { problems, take, clear } = useProblems()
const { mutateAsync, isPending } = useImportCampaign()

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

function chosen(event: Event): void {
  const target = event.target as HTMLInputElement
  file.value = target.files?.[0]
  target.value = ''
  void bring(false)
}
</script>

<template>
  <input
    ref="input"
    class="visually-hidden"
    type="file"
    accept=".json,application/json"
    tabindex="-1"
    aria-label="Campaign file"
    @change="chosen"
  />
  <AButton :loading="isPending" @click="input?.click()">Import a campaign file</AButton>
  <AModal :open="problems.length > 0" title="The campaign was not imported" @cancel="clear">
    <ProblemList :problems="problems" />
    <p class="after">Nothing was stored.</p>
    <template #footer>
      <AButton v-if="problems.some((p) => p.where === 'campaign')" type="primary" @click="bring(true)">
        Import as a copy
      </AButton>
      <AButton @click="clear">Close</AButton>
    </template>
  </AModal>
</template>

<style scoped>
.after {
  margin-top: 12px;
}
</style>
