<!-- Knobs and workloads of the campaign: what is there, what is added later, what is no longer used. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { Button as AButton, message } from 'ant-design-vue'
import { computed, ref } from 'vue'

import {
  type Knob,
  useAddKnob,
  useAddWorkload,
  useChangeKnob,
  useRetireKnob,
  useRetireWorkload,
  type Workload,
} from '../../api/campaigns'
import { whyOf } from '../../api/client'
import { useCorrectWorkload, useWorkloads } from '../../api/rigs'
import {
  asKnobChange,
  asWorkloadIn,
  emptyKnob,
  emptyWorkload,
  type KnobDraft,
  knobLike,
  type WorkloadDraft,
  workloadLike,
} from '../campaigns/drafts'
import KnobEditor from '../campaigns/KnobEditor.vue'
import WorkloadEditor from '../campaigns/WorkloadEditor.vue'
import { useProblems } from '../../composables/useProblems'
import { useStageCampaign } from '../../composables/useStageCampaign'
import ChoiceField from '../../ui/ChoiceField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { exact, knobValue, number } from '../../ui/words/format'
import SideSheet from '../../ui/SideSheet.vue'

const campaign = useStageCampaign()
const { data: known } = useWorkloads()
const { mutateAsync: addKnob, isPending: addingKnob } = useAddKnob()
const { mutateAsync: changeKnob, isPending: changingKnob } = useChangeKnob()
const { mutateAsync: retireKnob } = useRetireKnob()
const { mutateAsync: addWorkload, isPending: addingWorkload } = useAddWorkload()
const { mutateAsync: retireWorkload } = useRetireWorkload()
const { mutateAsync: correctWorkload, isPending: correcting } = useCorrectWorkload()
const { problems, take, clear } = useProblems()

/** The workload that is being corrected; none while a further one is added. */
const corrected = ref<Workload>()
/** It as the form was filled with it. */
const workloadSeen = ref<ReturnType<typeof asWorkloadIn>>()
/** The knob that is being changed; none while a further one is added. */
const changed = ref<Knob>()
const knobOpen = ref(false)
const workloadOpen = ref(false)
const knobs = ref<KnobDraft[]>([])
const workloads = ref<WorkloadDraft[]>([])
const chosen = ref<number>()

const at = (where: string): string | undefined => {
  const found = problems.value.find((problem) => problem.where === where || where.endsWith(`.${problem.where}`))
  return found && `${found.what} ${found.todo}`
}
const movesWords = (role: string): string => {
  const word = registry.value.roles.find((one) => one.role === role)?.moves
  return registry.value.figures.find((one) => one.word === word)?.name.toLowerCase() ?? '–'
}
const others = computed(() => {
  const own = new Set(campaign.value.workloads.map((one) => one.id))
  return (known.value ?? [])
    .filter((one) => !own.has(one.id))
    .map((one) => ({ value: one.id, label: one.options_in_words ? `${one.name}, ${one.options_in_words}` : one.name }))
})

function begin(what: 'knob' | 'workload'): void {
  clear()
  if (what === 'knob') {
    knobs.value = [emptyKnob()]
    changed.value = undefined
    knobOpen.value = true
  } else {
    workloads.value = [emptyWorkload()]
    chosen.value = undefined
    corrected.value = undefined
    workloadOpen.value = true
  }
}
function change(knob: Knob): void {
  clear()
  changed.value = knob
  knobs.value = [knobLike(knob)]
  knobOpen.value = true
}
function correct(workload: Workload): void {
  clear()
  chosen.value = undefined
  corrected.value = workload
  workloads.value = [workloadLike(workload as never)]
  workloadSeen.value = asWorkloadIn(workloads.value[0]!)
  workloadOpen.value = true
}
async function tryIt(act: () => Promise<unknown>, done: () => void): Promise<void> {
  clear()
  try {
    await act()
    done()
  } catch (trouble) {
    take(trouble)
  }
}
const saveKnob = () =>
  tryIt(
    () =>
      changed.value
        ? changeKnob({
            id: campaign.value.id,
            key: changed.value.key,
            body: { ...asKnobChange(knobs.value[0]!), seen: { ...changed.value } },
          })
        : addKnob({ id: campaign.value.id, body: knobs.value[0] as never }),
    () => (knobOpen.value = false),
  )
const saveWorkload = () =>
  tryIt(
    () =>
      corrected.value
        ? correctWorkload({ id: corrected.value.id, body: { ...asWorkloadIn(workloads.value[0]!), seen: workloadSeen.value } })
        : addWorkload({
            id: campaign.value.id,
            body: chosen.value ? { workload_id: chosen.value } : { workload: asWorkloadIn(workloads.value[0]!) },
          }),
    () => (workloadOpen.value = false),
  )
async function put(act: Promise<unknown>, words: string): Promise<void> {
  try {
    await act
    void message.success(words)
  } catch (trouble) {
    void message.error(whyOf(trouble))
  }
}
const retire = (key: string, retired: boolean) =>
  put(retireKnob({ id: campaign.value.id, key, retired }), retired ? 'Retired; settings that turned it stay.' : 'Turned again.')
const drop = (workload: Workload) =>
  put(retireWorkload({ id: campaign.value.id, workloadId: workload.id }), 'Retired; its runs stay.')
const bringBack = (workload: Workload) =>
  put(addWorkload({ id: campaign.value.id, body: { workload_id: workload.id } }), 'Measured again.')
</script>

<template>
  <div id="knobs" class="head">
    <h2>Knobs</h2>
    <AButton size="small" @click="begin('knob')">Add a knob</AButton>
  </div>
  <p class="quiet">In the order of turning. What a knob moves is read beside what was set.</p>
  <div class="scroll-x">
    <table class="ledger">
      <thead>
        <tr>
          <th>Knob</th>
          <th>Turns</th>
          <th>Moves</th>
          <th class="number">Stock</th>
          <th class="number">Step</th>
          <th>Range</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="knob in campaign.knobs" :key="knob.key" :class="{ retired: knob.retired }">
          <td>
            {{ knob.name }} <span class="quiet figure">{{ knob.key }}</span>
          </td>
          <td>{{ knob.role }}</td>
          <td>{{ movesWords(knob.role) }}</td>
          <td class="number figure">{{ exact(knob.stock) }} {{ knob.unit }}</td>
          <td class="number figure">{{ exact(knob.step) }} {{ knob.unit }}</td>
          <td>
            <span class="figure">{{ knobValue(knob.low, knob.stock) }} to {{ knobValue(knob.high, knob.stock) }}</span
            >, {{ knob.retired ? 'retired' : knob.away === 1 ? 'upwards' : 'downwards' }}
          </td>
          <td class="acts">
            <AButton size="small" type="text" :aria-label="`Change ${knob.name}`" @click="change(knob)">Change</AButton>
            <AButton
              size="small"
              type="text"
              :aria-label="`${knob.retired ? 'Use again' : 'Retire'} ${knob.name}`"
              @click="retire(knob.key, !knob.retired)"
              >{{ knob.retired ? 'Use again' : 'Retire' }}</AButton
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <div id="workloads" class="head next">
    <h2>Workloads</h2>
    <AButton size="small" @click="begin('workload')">Add a workload</AButton>
  </div>
  <div class="scroll-x">
    <table class="ledger">
      <thead>
        <tr>
          <th>Workload</th>
          <th>Measures</th>
          <th>Better</th>
          <th>Options</th>
          <th class="number">A run</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="workload in campaign.workloads" :key="workload.id">
          <td>
            {{ workload.name }}
            <span v-for="text in workload.corrections" :key="text" class="quiet small">{{ text }}</span>
          </td>
          <td>{{ workload.measure }}, {{ workload.unit }}</td>
          <td>{{ workload.higher_is_better ? 'higher' : 'lower' }}</td>
          <td>
            {{ workload.options_in_words }}
            <span v-if="workload.cap_fps" class="caution">capped at {{ number(workload.cap_fps, 0) }} fps</span>
          </td>
          <td class="number figure">{{ exact(workload.minutes) }} min</td>
          <td class="acts">
            <AButton size="small" type="text" :aria-label="`Correct ${workload.title}`" @click="correct(workload)"
              >Correct</AButton
            >
            <AButton size="small" type="text" :aria-label="`Retire ${workload.title}`" @click="drop(workload)">Retire</AButton>
          </td>
        </tr>
        <tr v-for="workload in campaign.retired" :key="workload.id" class="retired">
          <td>{{ workload.name }}</td>
          <td colspan="4">retired; its runs stay</td>
          <td class="acts">
            <AButton size="small" type="text" :aria-label="`Measure ${workload.title} again`" @click="bringBack(workload)"
              >Measure again</AButton
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <SideSheet v-model:open="knobOpen" :title="changed ? `Change ${changed.name}` : 'A further knob'" :width="720">
    <p class="quiet lead">
      {{
        changed
          ? `What was run stays, outside a narrower range and between wider steps too. Stock stays ${exact(changed.stock)} ${changed.unit}.`
          : 'Settings made so far count as stock for it.'
      }}
    </p>
    <form @submit.prevent="saveKnob">
      <KnobEditor v-model="knobs" :at="at" single :changed="!!changed" />
      <ProblemList :problems="problems" :title="changed ? 'Not changed:' : 'Not added:'" class="lead" />
      <AButton type="primary" html-type="submit" :loading="addingKnob || changingKnob" class="lead">{{
        changed ? 'Save the knob' : 'Add the knob'
      }}</AButton>
    </form>
  </SideSheet>
  <SideSheet v-model:open="workloadOpen" :title="corrected ? `Correct ${corrected.title}` : 'A further workload'" :width="820">
    <form @submit.prevent="saveWorkload">
      <p v-if="corrected" class="quiet lead">
        It is the same workload in every campaign: what you correct here is corrected everywhere. What stood there before stays
        readable.
      </p>
      <ChoiceField
        v-else
        v-model="chosen"
        label="One that is there already"
        :options="others"
        hint="or describe a new one below"
        class="lead"
      />
      <WorkloadEditor v-if="!chosen" v-model="workloads" :at="at" single />
      <ProblemList :problems="problems" :title="corrected ? 'Not corrected:' : 'Not added:'" class="lead" />
      <AButton type="primary" html-type="submit" :loading="addingWorkload || correcting" class="lead">{{
        corrected ? 'Save the correction' : 'Add the workload'
      }}</AButton>
    </form>
  </SideSheet>
</template>

<style scoped>
.head {
  display: flex;
  gap: 16px;
  justify-content: space-between;
}
.next {
  margin-top: 24px;
}
.acts {
  text-align: right;
}
.retired td {
  color: var(--quiet);
}
.lead {
  margin: 0 0 16px;
}
.small {
  display: block;
  font-size: 13px;
}
</style>
