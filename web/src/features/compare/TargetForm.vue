<!-- A rival's results as told elsewhere. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, ref, watch } from 'vue'

import type { Campaign } from '../../api/campaigns'
import { useDropTarget, useKeepTarget, type Versus } from '../../api/compare'
import { plain } from '../../ui/words/format'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import TextField from '../../ui/TextField.vue'
import SideSheet from '../../ui/SideSheet.vue'

const props = defineProps<{ campaign: Campaign; versus: Versus; targetId?: number }>()
const open = defineModel<boolean>('open', { required: true })
const { mutateAsync: keep, isPending } = useKeepTarget()
const { mutateAsync: drop } = useDropTarget()
const { problems, take, clear, at } = useProblems()

const blank = () => ({
  name: '',
  price: null as number | null,
  source: '',
  conditions: '',
  results: {} as Record<number, number | null>,
})
const draft = ref(blank())
const present = computed(() => props.versus.targets.find((target) => target.target_id === props.targetId))

watch(open, (isOpen) => {
  if (!isOpen) return
  clear()
  const told = present.value
  draft.value = told
    ? { name: told.name, price: told.price, source: told.source, conditions: told.conditions, results: {} }
    : blank()
  for (const workload of props.campaign.workloads)
    draft.value.results[workload.id] = told?.cells.find((cell) => cell.workload_id === workload.id)?.value ?? null
  seen.value = told ? typed() : null
})

/** The target as it was when the form was opened. */
const seen = ref<ReturnType<typeof typed> | null>(null)
function typed() {
  const told = Object.entries(draft.value.results).filter(([, value]) => value !== null) as [string, number][]
  return { ...draft.value, results: Object.fromEntries(told) }
}

async function save(): Promise<void> {
  clear()
  try {
    await keep({ campaignId: props.campaign.id, targetId: props.targetId, body: typed(), seen: seen.value })
    open.value = false
  } catch (trouble) {
    take(trouble)
  }
}
async function remove(): Promise<void> {
  clear()
  try {
    if (props.targetId) await drop(props.targetId)
    open.value = false
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <SideSheet v-model:open="open" :title="targetId ? 'The target' : 'Add a target'" :width="440">
    <form class="form-grid" @submit.prevent="save">
      <TextField
        v-model="draft.name"
        label="Target name"
        hint="the next model up, as delivered"
        :most="120"
        :trouble="at('name')"
        class="wide"
      />
      <NumberField v-model="draft.price" label="Its price" :unit="campaign.currency || undefined" :trouble="at('price')" />
      <span></span>
      <TextField v-model="draft.source" label="Where its figures come from" :most="300" class="wide" />
      <TextField
        v-model="draft.conditions"
        label="Measured under"
        hint="open bench, 21 °C, other driver"
        :most="300"
        class="wide"
      />
      <NumberField
        v-for="workload in campaign.workloads"
        :key="workload.id"
        v-model="draft.results[workload.id]!"
        :label="workload.name"
        :unit="workload.unit"
        :trouble="at(`results.${workload.id}`)"
      />
      <p v-if="present?.value" class="wide quiet">
        {{ plain(present.value.per_unit) }} {{ campaign.currency }} for each {{ campaign.workloads[0]?.unit }} of
        {{ campaign.workloads[0]?.name
        }}<template v-if="present.value.last_unit != null"
          >; every one more than the first candidate gives costs {{ plain(present.value.last_unit) }}
          {{ campaign.currency }}</template
        >.
      </p>
      <ProblemList :problems="problems" title="Not saved:" class="wide" />
      <div class="wide acts">
        <AButton type="primary" html-type="submit" :loading="isPending">Save the target</AButton>
        <AButton v-if="targetId" @click="remove">Remove target</AButton>
      </div>
    </form>
  </SideSheet>
</template>

<style scoped>
.acts {
  display: flex;
  gap: 8px;
}
</style>
