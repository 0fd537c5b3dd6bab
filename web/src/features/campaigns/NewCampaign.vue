<!-- A new campaign, described in four steps; what was typed is kept until it is created. -->
<script setup lang="ts">
import { Button as AButton, Checkbox as ACheckbox } from 'ant-design-vue'
import { computed, nextTick, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { useMakeCampaign } from '../../api/campaigns'
import { useWorkloads } from '../../api/rigs'
import { useProblems } from '../../composables/useProblems'
import ProblemList from '../../ui/ProblemList.vue'
import { emptyWorkload } from './drafts'
import KnobEditor from './KnobEditor.vue'
import { asCampaignIn, freshDraft, gaps, SIMULATOR, stepOf, type StepKey, STEPS, useNewDraft } from './newDraft'
import StepRig from './StepRig.vue'
import StepWhat from './StepWhat.vue'
import WorkloadEditor from './WorkloadEditor.vue'
import TermWord from '../../ui/TermWord.vue'

const router = useRouter()
const route = useRoute()
const draft = useNewDraft()
const { mutateAsync, isPending } = useMakeCampaign()
const { problems, take, clear, at } = useProblems()

const place = computed(() =>
  Math.max(
    0,
    STEPS.findIndex((step) => step.key === route.query.step),
  ),
)
const step = computed(() => STEPS[place.value]!)
const go = (key: StepKey): void => void router.push({ query: { step: key } })
const begun = computed(() => JSON.stringify(draft.value) !== JSON.stringify(freshDraft()))

const { data: workloads } = useWorkloads()
/** Workloads that are there already, those of the chosen rig first. */
const known = computed(() =>
  [...(workloads.value ?? [])].sort(
    (a, b) => Number(b.rig_ids.includes(draft.value.rigId)) - Number(a.rig_ids.includes(draft.value.rigId)),
  ),
)
/** On a rig that is known its workloads are used; a line that nothing was typed into makes room for them. */
watch(
  () => draft.value.rigId,
  (rigId) => {
    if (draft.value.start.startsWith('like ')) return
    draft.value.workloadIds = rigId > 0 ? known.value.filter((one) => one.rig_ids.includes(rigId)).map((one) => one.id) : []
    if (draft.value.workloadIds.length) draft.value.workloads = draft.value.workloads.filter((one) => one.name || one.minutes)
    else if (draft.value.workloads.length === 0) draft.value.workloads = [emptyWorkload()]
  },
)
const choose = (id: number): void => {
  const ids = draft.value.workloadIds
  draft.value.workloadIds = ids.includes(id) ? ids.filter((one) => one !== id) : [...ids, id]
}

/** To the step that holds the first problem, where it is next to its field. */
async function toTheFirst(): Promise<void> {
  const first = problems.value[0]
  if (first && stepOf(first) !== step.value.key) await router.push({ query: { step: stepOf(first) } })
  await nextTick()
}
// once it is made the form has gone: emptied, it would wait for the next page as if nothing had been stored
const made = shallowRef(false)
const filling = shallowRef<Promise<void>>()
async function create(): Promise<void> {
  clear()
  // pressed while an earlier campaign is still being filled in: it counts once that is there
  await filling.value?.catch(() => undefined)
  problems.value = gaps(draft.value)
  if (problems.value.length) return toTheFirst()
  try {
    const campaign = await mutateAsync(asCampaignIn(draft.value))
    made.value = true
    draft.value = freshDraft()
    await router.push({ name: 'Baseline', params: { id: campaign.id } })
  } catch (trouble) {
    take(trouble)
    await toTheFirst()
  }
}
</script>

<template>
  <p v-if="made" class="quiet" role="status">Created. Its baseline comes next.</p>
  <template v-else>
    <div class="head">
      <h1>New campaign</h1>
      <AButton v-if="begun" type="text" @click="draft = freshDraft()">Start over</AButton>
    </div>
    <nav class="steps" aria-label="Steps of the description">
      <button
        v-for="(one, index) in STEPS"
        :key="one.key"
        type="button"
        class="step"
        :aria-current="one.key === step.key ? 'step' : undefined"
        @click="go(one.key)"
      >
        <span class="figure quiet">{{ index + 1 }}</span> {{ one.name }}
        <span v-if="problems.some((problem) => stepOf(problem) === one.key)" class="warning">to correct</span>
      </button>
    </nav>
    <form novalidate @submit.prevent="create">
      <StepWhat v-if="step.key === 'what'" v-model="draft" v-model:filling="filling" :at="at" />
      <StepRig v-else-if="step.key === 'rig'" v-model="draft" :at="at" />
      <section v-else-if="step.key === 'knobs'" class="sheet block">
        <h2><TermWord term="Knob">Knobs</TermWord> <span class="quiet hint">what you will turn, and how far</span></h2>
        <KnobEditor v-model="draft.knobs" :at="at" />
      </section>
      <section v-else class="sheet block">
        <h2>
          <TermWord term="Workload">Workloads</TermWord> <span class="quiet hint">the first is the one that counts most</span>
        </h2>
        <div v-if="draft.rigId !== SIMULATOR && known.length" class="kept">
          <ACheckbox
            v-for="workload in known"
            :key="workload.id"
            :checked="draft.workloadIds.includes(workload.id)"
            @change="choose(workload.id)"
          >
            {{ workload.name }} <span class="quiet">{{ workload.options_in_words }}</span>
          </ACheckbox>
        </div>
        <WorkloadEditor v-model="draft.workloads" :at="at" />
      </section>
      <ProblemList v-if="problems.length" :problems="problems" title="Not created yet; nothing was stored:" class="trouble" />
      <div class="acts">
        <AButton v-if="place > 0" @click="go(STEPS[place - 1]!.key)">Back: {{ STEPS[place - 1]!.name }}</AButton>
        <AButton v-if="place < STEPS.length - 1" type="primary" @click="go(STEPS[place + 1]!.key)">
          Next: {{ STEPS[place + 1]!.name }}
        </AButton>
        <AButton :type="place === STEPS.length - 1 ? 'primary' : 'default'" html-type="submit" :loading="isPending"
          >Create the campaign</AButton
        >
      </div>
    </form>
  </template>
</template>

<style scoped>
.head {
  display: flex;
  gap: 12px;
  align-items: baseline;
  margin: 16px 0 8px;
}
.steps {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 8px;
  margin-bottom: 16px;
}
.step {
  padding: 6px 0;
  border: 0;
  border-top: 2px solid var(--rule);
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.step[aria-current] {
  border-top-color: var(--petrol);
  font-weight: 700;
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
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
