<!-- Out of the list, or gone: what goes is said first, and a deletion can be undone until the next start. -->
<script setup lang="ts">
import { Button as AButton, message, Modal as AModal } from 'ant-design-vue'
import { archiveAddress } from '../../api/archive'
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { useArchive, useDelete, useTakeBackDeletion, useWhatGoes } from '../../api/campaigns'
import { whyOf } from '../../api/client'
import { useProblems } from '../../composables/useProblems'
import { sayWithUndo } from '../../composables/sayWithUndo'
import { useStageCampaign } from '../../composables/useStageCampaign'
import DownloadButton from '../../ui/DownloadButton.vue'
import ProblemList from '../../ui/ProblemList.vue'
import TextField from '../../ui/TextField.vue'
import { counted } from '../../ui/words/format'

const campaign = useStageCampaign()
const router = useRouter()
const { mutateAsync: archive } = useArchive()
const { mutateAsync: remove, isPending } = useDelete()
const { mutateAsync: takeBack } = useTakeBackDeletion()
const { problems, take, clear, at } = useProblems()
const asking = ref(false)
const typed = ref('')
const { data: goes } = useWhatGoes(() => campaign.value.id, asking)

async function putAway(): Promise<void> {
  const archived = !campaign.value.archived_at
  try {
    await archive({ id: campaign.value.id, archived })
    void message.success(archived ? 'Archived; all of it is kept.' : 'Back in the list.')
  } catch (trouble) {
    void message.error(whyOf(trouble))
  }
}
function ask(): void {
  clear()
  typed.value = ''
  asking.value = true
}
async function destroy(): Promise<void> {
  clear()
  const { id, name } = campaign.value
  try {
    await remove({ id, name: typed.value })
    asking.value = false
    await router.push({ name: 'campaigns' })
    sayWithUndo('deleted', `Deleted “${name}”. It is removed for good at the next start.`, () => takeBack(id))
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <div class="end">
    <DownloadButton :address="archiveAddress(campaign.id)" small>Download this campaign</DownloadButton>
    <a :href="`/api/campaigns/${campaign.id}/runs.csv`" download>Runs as CSV</a>
    <AButton size="small" @click="putAway">{{
      campaign.archived_at ? 'Take out of the archive' : 'Archive this campaign'
    }}</AButton>
    <AButton size="small" danger @click="ask">Delete this campaign</AButton>
  </div>
  <AModal
    v-model:open="asking"
    title="Delete this campaign?"
    ok-text="Delete it"
    :ok-button-props="{ danger: true, disabled: typed.trim() !== campaign.name, loading: isPending }"
    cancel-text="Cancel"
    @ok="destroy"
  >
    <p v-if="goes">
      With it go {{ counted(goes.settings, 'setting') }}, {{ counted(goes.runs, 'run') }} and {{ counted(goes.logs, 'log') }}. The
      rig, its instruments and the workloads stay. Until the next start it can be undone; take the campaign file first if you may
      want it later.
    </p>
    <TextField v-model="typed" :label="`To delete it, type its name: ${campaign.name}`" :most="200" :trouble="at('name')" />
    <ProblemList :problems="problems.filter((problem) => problem.where !== 'name')" title="Not deleted:" />
  </AModal>
</template>

<style scoped>
.end {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 32px;
}
</style>
