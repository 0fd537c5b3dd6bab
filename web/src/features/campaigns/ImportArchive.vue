<script setup lang="ts">
import { Button as AButton, message, Modal as AModal } from 'ant-design-vue'
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { type ImportPlan as Plan, useImportArchive, usePlanImport } from '../../api/archive'
import { useProblems } from '../../composables/useProblems'
import ProblemList from '../../ui/ProblemList.vue'
import { counted } from '../../ui/words/format'
import ImportPlan from './ImportPlan.vue'

const router = useRouter()
const input = ref<HTMLInputElement>()
const file = ref<File>()
const { problems, take, clear } = useProblems()
const { mutateAsync: planImport, isPending: planning } = usePlanImport()
const { mutateAsync: importArchive, isPending: importing } = useImportArchive()
/** Shown before anything is stored, unless the file holds one campaign and that is new. */
const plan = ref<Plan | null>(null)
const copies = ref<string[]>([])
const hasNews = (one: Plan): boolean =>
  one.campaigns.some((campaign) => campaign.state === 'new') || one.rigs.length > 0 || one.journal > 0 || copies.value.length > 0

async function check(chosen: File): Promise<void> {
  clear()
  copies.value = []
  file.value = chosen
  try {
    const found = await planImport(chosen)
    if (found.campaigns.length === 1 && found.campaigns[0]?.state === 'new') await store()
    else plan.value = found
  } catch (trouble) {
    take(trouble)
  }
}

async function store(): Promise<void> {
  if (!file.value) return
  try {
    const done = await importArchive({ file: file.value, copies: copies.value })
    plan.value = null
    const [only, ...others] = done.imported
    void message.success(`Imported ${counted(done.imported.length, 'campaign')}.`)
    if (only !== undefined && !others.length) await router.push({ name: 'campaign', params: { id: only } })
  } catch (trouble) {
    plan.value = null
    take(trouble)
  }
}

function chosen(event: Event): void {
  const target = event.target as HTMLInputElement
  const [first] = target.files ?? []
  target.value = ''
  if (first) void check(first)
}
</script>

<template>
  <input
    ref="input"
    class="visually-hidden"
    type="file"
    accept=".json,.zip,application/json,application/zip"
    tabindex="-1"
    aria-label="Archive or campaign file"
    @change="chosen"
  />
  <AButton :loading="planning || importing" @click="input?.click()">Import a file</AButton>
  <AModal :open="problems.length > 0" title="Not imported" @cancel="clear">
    <ProblemList :problems="problems" />
    <p class="after">Nothing was stored.</p>
    <template #footer>
      <AButton @click="clear">Close</AButton>
    </template>
  </AModal>
  <AModal :open="plan !== null" title="What is in this file" :width="720" @cancel="plan = null">
    <ImportPlan v-if="plan" v-model:copies="copies" :plan="plan" />
    <template #footer>
      <AButton v-if="plan && hasNews(plan)" type="primary" :loading="importing" @click="store">{{
        copies.length ? 'Import what is new, and the copies' : 'Import what is new'
      }}</AButton>
      <AButton :disabled="importing" @click="plan = null">{{ plan && hasNews(plan) ? 'Cancel' : 'Close' }}</AButton>
    </template>
  </AModal>
</template>

<style scoped>
.after {
  margin-top: 12px;
}
</style>
