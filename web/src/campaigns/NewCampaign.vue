<script setup lang="ts">
import { Button as AButton, Checkbox as ACheckbox } from 'ant-design-vue'
import { computed, reactive, watch } from 'vue'
import { useRouter } from 'vue-router'

import { type CampaignIn, useGoals, useMakeCampaign } from '../api/campaigns'
import { useStandIn } from '../api/benches'
import type { Problem } from '../api/client'
import { useRigs, useWorkloads } from '../api/rigs'
import ChoiceField from '../parts/ChoiceField.vue'
import NumberField from '../parts/NumberField.vue'
import ProblemList from '../parts/ProblemList.vue'
import { useProblems } from '../composables/useProblems'
import TextField from '../parts/TextField.vue'
import {
  asWorkloadIn,
  emptyFitting,
  emptyWorkload,
  type KnobDraft,
  usualKnobs,
  type WorkloadDraft,
  withoutEmptyParts,
  workloadLike,
} from './drafts'
import FittingEditor from './FittingEditor.vue'
import KnobEditor from './KnobEditor.vue'
import WorkloadEditor from './WorkloadEditor.vue'

const NEW_RIG = 0
/** A new rig of the stand-in's: no hardware needed. */
const STAND_IN = -1

const router = useRouter()
const { data: rigs } = useRigs()
const { data: goals } = useGoals()
const { data: standIns } = useStandIn()
const { mutateAsync, isPending } = useMakeCampaign()
const { problems, take, clear, at } = useProblems()

const draft = reactive({
  name: '',
  goal: 'speed' as CampaignIn['goal'],
  aim: '',
  rigId: NEW_RIG as number | undefined,
  rigName: '',
  kind: 'dome',
  seed: 1 as number | null,
  fitting: emptyFitting(),
  knobs: [{ ...usualKnobs['Core clock offset']! }] as KnobDraft[],
  workloads: [emptyWorkload()] as WorkloadDraft[],
  workloadIds: [] as number[],
})

const rigChoices = computed(() => [
  { value: NEW_RIG, label: 'a new rig, described here' },
  { value: STAND_IN, label: 'a new stand-in, no hardware needed' },
  ...(rigs.value ?? []).map((rig) => ({ value: rig.id, label: rig.name })),
])
const goalChoices = computed(() => (goals.value ?? []).map((goal) => ({ ...goal, value: goal.value as CampaignIn['goal'] })))
const rig = computed(() => rigs.value?.find((one) => one.id === draft.rigId))
const { data: workloads } = useWorkloads()
/** Workloads that are there already, those of the chosen rig first. */
const known = computed(() =>
  [...(workloads.value ?? [])].sort(
    (a, b) => Number(b.rig_ids.includes(draft.rigId ?? -1)) - Number(a.rig_ids.includes(draft.rigId ?? -1)),
  ),
)
const untouched = (workload: WorkloadDraft): boolean => workload.name === '' && workload.minutes === null

const kindChoices = computed(() => (standIns.value ?? []).map((kind) => ({ value: kind.key, label: kind.name.toLowerCase() })))
const isNew = computed(() => draft.rigId === NEW_RIG || draft.rigId === STAND_IN)

/** Knobs and workloads are those that the stand-in has; everything can still be left out or changed. */
let offered = ''
watch([() => draft.rigId, () => draft.kind, standIns], () => {
  const wanted = draft.rigId === STAND_IN && standIns.value ? draft.kind : ''
  // what is asked for again in the background changes nothing that was begun
  if (wanted === offered) return
  offered = wanted
  const kind = standIns.value?.find((one) => one.key === draft.kind)
  if (draft.rigId !== STAND_IN || !kind) return
  draft.knobs = kind.knobs.map((knob) => ({ ...knob })) as KnobDraft[]
  draft.workloads = kind.workloads.map(workloadLike)
  draft.rigName ||= `${kind.name}, specimen ${draft.seed ?? ''}`.trim()
  draft.fitting = {
    ...emptyFitting(),
    parts: kind.parts.map((role) => ({ role, name: 'stand-in', specimen: `seed ${draft.seed ?? ''}` })),
  }
})

watch(
  () => rig.value?.id,
  () => {
    draft.workloadIds = known.value.filter((one) => rig.value && one.rig_ids.includes(rig.value.id)).map((one) => one.id)
    if (draft.workloadIds.length) draft.workloads = draft.workloads.filter((workload) => !untouched(workload))
    else if (draft.workloads.length === 0) draft.workloads = [emptyWorkload()]
  },
)

/** A field left empty that must hold a number, named before anything is sent. */
function gaps(): Problem[] {
  const missing = (where: string, value: unknown): Problem[] =>
    value === null || value === '' ? [{ where, what: 'This is empty.', todo: 'Please fill it in.' }] : []
  return [
    ...missing('name', draft.name.trim()),
    ...(isNew.value ? missing('rig.name', draft.rigName.trim()) : []),
    ...(draft.rigId === STAND_IN ? missing('rig.standin_seed', draft.seed) : []),
    ...draft.knobs.flatMap((knob, i) =>
      (['name', 'stock', 'step', 'low', 'high'] as const).flatMap((field) => missing(`knobs.${i}.${field}`, knob[field])),
    ),
    ...draft.workloads.flatMap((workload, i) =>
      (['name', 'unit', 'minutes'] as const).flatMap((field) => missing(`workloads.${i}.${field}`, workload[field])),
    ),
  ]
}

async function create(): Promise<void> {
  clear()
  const empty = gaps()
  if (empty.length) {
    problems.value = empty
    return
  }
  try {
    const campaign = await mutateAsync({
      name: draft.name,
      goal: draft.goal,
      aim: draft.aim,
      rig_id: isNew.value ? null : draft.rigId,
      rig: isNew.value
        ? {
            name: draft.rigName,
            fitting: withoutEmptyParts(draft.fitting),
            standin: draft.rigId === STAND_IN ? draft.kind : '',
            standin_seed: draft.rigId === STAND_IN ? (draft.seed ?? 0) : 0,
          }
        : null,
      knobs: draft.knobs as CampaignIn['knobs'],
      workloads: draft.workloads.map(asWorkloadIn),
      workload_ids: draft.workloadIds,
    })
    await router.push({ name: 'Baseline', params: { id: campaign.id } })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <h1 class="title">New campaign</h1>
  <form @submit.prevent="create">
    <section class="sheet block">
      <h2>Goal</h2>
      <div class="three">
        <TextField v-model="draft.name" label="Name of the campaign" :most="160" :trouble="at('name')" />
        <ChoiceField v-model="draft.goal" label="Goal" :options="goalChoices" />
        <TextField v-model="draft.aim" label="In your own words" hint="72 frames a second in a warm room" :most="300" />
      </div>
    </section>
    <section class="sheet block">
      <h2>Rig</h2>
      <div class="three">
        <ChoiceField v-model="draft.rigId" label="Which rig" :options="rigChoices" />
        <TextField v-if="isNew" v-model="draft.rigName" label="Name of the rig" :most="120" :trouble="at('rig.name')" />
        <div v-if="draft.rigId === STAND_IN" class="pair">
          <ChoiceField v-model="draft.kind" label="Model it on" :options="kindChoices" />
          <NumberField v-model="draft.seed" label="Specimen" hint="any whole number" :trouble="at('rig.standin_seed')" />
        </div>
      </div>
      <p v-if="draft.rigId === STAND_IN" class="quiet below">
        A simulated machine that heats, throttles and fails like a real one. Every number gives another specimen, with its own
        luck; the same number always gives the same one.
      </p>
      <FittingEditor v-else-if="draft.rigId === NEW_RIG" v-model="draft.fitting" class="below" />
      <p v-else class="quiet below">Its present fitting is used. Change it on the Prepare page when the rig changes.</p>
    </section>
    <section class="sheet block">
      <h2>Knobs <span class="quiet hint">in the order you mean to turn them</span></h2>
      <KnobEditor v-model="draft.knobs" :at="at" />
    </section>
    <section class="sheet block">
      <h2>Workloads <span class="quiet hint">the first is the one that counts most</span></h2>
      <div v-if="draft.rigId !== STAND_IN && known.length" class="kept">
        <ACheckbox
          v-for="workload in known"
          :key="workload.id"
          :checked="draft.workloadIds.includes(workload.id)"
          @change="
            draft.workloadIds = draft.workloadIds.includes(workload.id)
              ? draft.workloadIds.filter((id) => id !== workload.id)
              : [...draft.workloadIds, workload.id]
          "
        >
          {{ workload.name }} <span class="quiet">{{ workload.options_in_words }}</span>
        </ACheckbox>
      </div>
      <WorkloadEditor v-model="draft.workloads" :at="at" />
    </section>
    <ProblemList v-if="problems.length" :problems="problems" title="Not created yet; nothing was stored:" class="trouble" />
    <AButton type="primary" html-type="submit" :loading="isPending">Create the campaign</AButton>
  </form>
</template>

<style scoped>
.title {
  margin: 16px 0;
}
.block {
  margin-bottom: 16px;
  padding: 16px;
}
.block h2 {
  margin-bottom: 8px;
}
.hint {
  margin-left: 8px;
  font-size: 13px;
  font-weight: 400;
}
.three {
  display: grid;
  grid-template-columns: 2fr 1.5fr 3fr;
  gap: 16px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 16px;
}
.below {
  margin-top: 12px;
}
.kept {
  display: grid;
  gap: 4px;
  margin-bottom: 12px;
}
.kept :deep(.ant-checkbox-wrapper) {
  margin: 0;
}
.trouble {
  margin-bottom: 16px;
}
</style>
