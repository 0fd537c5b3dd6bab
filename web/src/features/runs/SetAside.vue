<!-- Leaves a run out of the means, with a reason; or lets it count again. -->
<script setup lang="ts">
import { Button as AButton, Modal as AModal } from 'ant-design-vue'
import { ref } from 'vue'

import { useSetAside, useTakeBack } from '../../api/runs'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import { sayWithUndo } from '../../composables/sayWithUndo'
import TextField from '../../ui/TextField.vue'

const props = defineProps<{ runId: number; aside: boolean }>()
const { mutateAsync: setAside, isPending } = useSetAside()
const { mutateAsync: takeBack } = useTakeBack()
const { problems, take, clear } = useProblems()
const asking = ref(false)
const reason = ref('')

async function leaveOut(): Promise<void> {
  clear()
  try {
    await setAside({ id: props.runId, reason: reason.value })
    asking.value = false
    sayWithUndo(`aside-${props.runId}`, 'Set aside; it stays in the log. ', () => takeBack(props.runId))
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <AButton v-if="aside" size="small" type="text" @click="takeBack(runId)">Count again</AButton>
  <AButton v-else size="small" type="text" @click="asking = true">Set aside</AButton>
  <AModal v-model:open="asking" title="Set this run aside" ok-text="Set aside" :confirm-loading="isPending" @ok="leaveOut">
    <p>It stays in the log and no longer counts in any mean.</p>
    <TextField v-model="reason" label="Why" hint="caches were still filling" :most="300" class="reason" />
    <ProblemList :problems="problems" />
  </AModal>
</template>

<style scoped>
.reason {
  margin: 12px 0;
}
</style>
