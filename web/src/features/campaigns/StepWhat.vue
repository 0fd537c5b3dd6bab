<!-- First step: what is tuned, which fills the other steps with what is usual there; the goal; the name. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { Modal } from 'ant-design-vue'
import { computed, ref, watch } from 'vue'

import { fetchCampaign, useCampaigns } from '../../api/campaigns'
import { useSimulator } from '../../api/benches'
import { type Starter, useStarters } from '../../api/starters'
import ChoiceField from '../../ui/ChoiceField.vue'
import TextField from '../../ui/TextField.vue'
import { beginLike, beginWith, beginWithSimulator, type NewDraft } from './newDraft'

defineProps<{ at: (where: string) => string | undefined }>()
const draft = defineModel<NewDraft>({ required: true })
/** What is being filled in: an earlier campaign is fetched first. */
const filling = defineModel<Promise<void>>('filling')
const { data: starters } = useStarters()
const { data: simulators } = useSimulator()
const { data: campaigns } = useCampaigns(ref(false))
const goalChoices = computed(() => registry.value.goals.map((one) => ({ value: one.goal, label: one.label })))
const earlier = computed(() => (campaigns.value ?? []).map((one) => ({ value: one.id, label: one.name })))
const like = computed(() => (draft.value.start.startsWith('like ') ? Number(draft.value.start.slice(5)) : undefined))

/** Knobs and workloads as they were filled in: what was typed since is not thrown away without a word. */
let filled = ''
/** A power limit is turned down where power, heat or noise are to be saved, and up where speed is wanted. */
function turnLimits(): void {
  const saves = registry.value.goals.find((one) => one.goal === draft.value.goal)?.saves
  if (saves === undefined) return
  for (const knob of draft.value.knobs) {
    if (knob.role !== 'power limit' || knob.stock === null) continue
    const [down, up] = [knob.low !== null && knob.low < knob.stock, knob.high !== null && knob.high > knob.stock]
    if (saves && down) knob.away = -1
    else if (!saves && up) knob.away = 1
  }
}
watch(
  () => draft.value.goal,
  () => {
    if (!filled || filled !== typed()) return
    turnLimits()
    filled = typed()
  },
)
const typed = (): string => JSON.stringify([draft.value.knobs, draft.value.workloads])
const untouched = (): boolean =>
  filled
    ? filled === typed()
    : draft.value.knobs.every((knob) => !knob.name) && draft.value.workloads.every((workload) => !workload.name)

function begin(fill: () => void | Promise<void>): void {
  const go = async (): Promise<void> => {
    await fill()
    turnLimits()
    filled = typed()
  }
  const started = (): Promise<void> => (filling.value = go())
  if (untouched()) return void started()
  Modal.confirm({
    title: 'Replace the knobs and workloads?',
    content: 'What you have typed for knobs and workloads so far is replaced.',
    okText: 'Replace',
    onOk: started,
  })
}
const take = (starter: Starter): void => begin(() => beginWith(draft.value, starter))
function takeSimulator(): void {
  const kind = simulators.value?.find((one) => one.key === draft.value.kind) ?? simulators.value?.[0]
  if (kind) begin(() => beginWithSimulator(draft.value, kind))
}
const takeLike = (id: number | undefined): void => {
  if (id) begin(async () => beginLike(draft.value, await fetchCampaign(id)))
}
</script>

<template>
  <section class="sheet block">
    <h2>What do you tune?</h2>
    <p class="quiet">Fills in knobs, their grids and kinds of workload that are usual there; everything can be changed.</p>
    <div class="starters" role="group" aria-label="What is tuned">
      <button
        v-for="one in starters?.starters"
        :key="one.key"
        type="button"
        class="starter"
        :aria-pressed="draft.start === one.key"
        @click="take(one)"
      >
        <strong>{{ one.name }}</strong>
        <span class="quiet">{{ one.says }}</span>
      </button>
      <button
        v-if="simulators?.length"
        type="button"
        class="starter"
        :aria-pressed="draft.start === 'simulator'"
        @click="takeSimulator"
      >
        <strong>The simulator</strong>
        <span class="quiet">A simulated machine that heats, throttles and fails like a real one; no hardware needed.</span>
      </button>
    </div>
    <ChoiceField
      v-if="earlier.length"
      class="like"
      :model-value="like"
      label="Or like an earlier campaign"
      hint="choose one"
      :options="earlier"
      @update:model-value="takeLike"
    />
  </section>
  <section class="sheet block">
    <h2>Goal</h2>
    <div class="three">
      <TextField v-model="draft.name" label="Name of the campaign" :most="160" :trouble="at('name')" />
      <ChoiceField v-model="draft.goal" label="Goal" :options="goalChoices" />
      <TextField v-model="draft.aim" label="In your own words" hint="72 frames a second in a warm room" :most="300" />
    </div>
  </section>
</template>

<style scoped>
.block {
  margin-bottom: 16px;
  padding: 16px;
}
.block h2 {
  margin-bottom: 8px;
}
.starters {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px;
  margin: 12px 0;
}
.starter {
  display: grid;
  gap: 2px;
  align-content: start;
  padding: 10px 12px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--ground);
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.starter:hover {
  border-color: var(--petrol);
}
.starter[aria-pressed='true'] {
  border-color: var(--petrol);
  box-shadow: inset 3px 0 0 var(--petrol);
}
.like {
  max-width: 420px;
}
.three {
  display: grid;
  grid-template-columns: 2fr 1.5fr 3fr;
  gap: 16px;
}
@media (max-width: 1000px) {
  .starters {
    grid-template-columns: 1fr 1fr;
  }
  .three {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
