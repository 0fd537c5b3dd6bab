<!-- Start a run on the simulator, or line several up: settings times workloads times repeats. -->
<script setup lang="ts">
import { Button as AButton, Checkbox as ACheckbox, message } from 'ant-design-vue'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { type Campaign, testable } from '../../api/campaigns'
import { useBenchOptions, useCeiling, useLineUp, useStartLive } from '../../api/live'
import { useSettings } from '../../api/settings'
import ChoiceField from '../../ui/ChoiceField.vue'
import ManyField from '../../ui/ManyField.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useAgreed } from '../../composables/useAgreed'
import { useProblems } from '../../composables/useProblems'
import { speed } from './speed'
import TextField from '../../ui/TextField.vue'
import type { Preset } from '../../composables/useStageCampaign'
import SideSheet from '../../ui/SideSheet.vue'

const props = defineProps<{ campaign: Campaign; preset: Preset }>()
const open = defineModel<boolean>('open', { required: true })
const router = useRouter()
const { data: settings, refetch: askSettings } = useSettings(() => props.campaign.id, open)
const { data: options } = useBenchOptions()
const { mutateAsync: start, isPending: starting } = useStartLive()
const { mutateAsync: lineUp, isPending: lining } = useLineUp()
const { problems, take, clear, at } = useProblems()

const settingIds = ref<number[]>([])
const workloadIds = ref<number[]>([])
const repeats = ref<number | null>(1)
const minutes = ref<number | null>(null)
const typed = ref('')
/** Two settings in turns, so that a drift falls out of their comparison. */
const inTurns = ref(true)

watch(open, (isOpen) => {
  if (!isOpen) return
  clear()
  typed.value = ''
  if (props.preset.settingId) settingIds.value = [props.preset.settingId]
  repeats.value = props.preset.repeats ?? 1
  minutes.value = props.preset.minutes ?? null
  if (props.preset.workloadId) workloadIds.value = [props.preset.workloadId]
})
/** Begins with stock and the first workload; what was chosen last time stays. */
watch([open, settings], () => {
  const stock = settings.value?.find((setting) => Object.keys(setting.values).length === 0)
  if (settingIds.value.length === 0 && stock) settingIds.value = [stock.id]
  if (workloadIds.value.length === 0) workloadIds.value = props.campaign.workloads.slice(0, 1).map((one) => one.id)
})

const single = computed(() => settingIds.value.length === 1 && workloadIds.value.length === 1 && repeats.value === 1)
const onlySetting = computed(() => (open.value && settingIds.value.length === 1 ? settingIds.value[0] : undefined))
const { data: ceiling } = useCeiling(() => props.campaign.id, onlySetting)
const canTakeTurns = computed(() => settingIds.value.length === 2 && (repeats.value ?? 0) > 1)
const count = computed(() => settingIds.value.length * workloadIds.value.length * (repeats.value ?? 0))
const ownMinutes = computed(() => testable(props.campaign).find((one) => one.id === workloadIds.value[0])?.minutes)
const speedChoices = computed(
  () =>
    options.value?.speeds.map((value) => ({ value, label: value === 1 ? '1× – as it would be' : `${value}× real time` })) ?? [],
)
const settingChoices = computed(() => settings.value?.map((setting) => ({ value: setting.id, label: setting.title })) ?? [])
const workloadChoices = computed(() => testable(props.campaign).map((one) => ({ value: one.id, label: one.name })))

const agreed = useAgreed(() => props.campaign.id)
async function go(): Promise<void> {
  clear()
  const body = { speed: speed.value ?? 1, confirmation: typed.value }
  try {
    // which knobs they turn has to be known before anything is begun
    const known = settings.value ?? (await askSettings({ cancelRefetch: false, throwOnError: true })).data
    const chosen = known?.filter((one) => settingIds.value.includes(one.id)) ?? []
    if (!(await agreed(chosen.flatMap((one) => Object.keys(one.values))))) return
    if (single.value) {
      const live = await start({
        campaignId: props.campaign.id,
        body: { ...body, setting_id: settingIds.value[0]!, workload_id: workloadIds.value[0]!, minutes: minutes.value },
      })
      open.value = false
      await router.push({ name: 'run', params: { id: live.run_id } })
      return
    }
    await lineUp({
      campaignId: props.campaign.id,
      body: {
        ...body,
        setting_ids: settingIds.value,
        workload_ids: workloadIds.value,
        repeats: repeats.value ?? 0,
        interleave: canTakeTurns.value && inTurns.value,
      },
    })
    open.value = false
    void message.success(`${count.value} runs lined up.`)
    await router.push({ name: 'Climb', params: { id: props.campaign.id } })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <SideSheet v-model:open="open" title="Run on the simulator" :width="480">
    <form class="start" @submit.prevent="go">
      <ManyField v-model="settingIds" label="Settings" :options="settingChoices" />
      <ManyField v-model="workloadIds" label="Workloads" :options="workloadChoices" />
      <div class="form-grid">
        <NumberField v-model="repeats" label="Runs of each" :trouble="at('repeats')" />
        <ChoiceField v-model="speed" label="Speed" :options="speedChoices" :trouble="at('speed')" />
        <NumberField
          v-if="single"
          v-model="minutes"
          label="Length"
          unit="min"
          :hint="`${ownMinutes}, workload default`"
          :trouble="at('minutes')"
        />
      </div>
      <div v-if="ceiling?.words" class="ceiling">
        <p class="warning">
          This setting stands beyond your voltage ceiling. More voltage ages a chip and can end it. To go on, type
          <strong>{{ ceiling.words }}</strong>; what you type is kept with the run.
        </p>
        <TextField v-model="typed" label="Typed confirmation" :most="300" />
      </div>
      <ACheckbox v-if="canTakeTurns" v-model:checked="inTurns">
        In turns, A B B A: a machine that warms up or tires then spoils nothing
      </ACheckbox>
      <p v-if="!single" class="quiet">
        {{ count }} runs in all, one after another, after a warm-up that is not logged. When a setting fails, the rest of its runs
        are left out.
      </p>
      <p v-else class="quiet">It is written down before it starts, and your safety limits stop it by themselves.</p>
      <ProblemList :problems="problems" title="Not started:" />
      <AButton type="primary" html-type="submit" :loading="starting || lining" :disabled="count < 1">
        {{ single ? 'Start the run' : `Line up ${count} runs` }}
      </AButton>
    </form>
  </SideSheet>
</template>

<style scoped>
.start {
  display: grid;
  gap: 16px;
}
.ceiling {
  display: grid;
  gap: 8px;
  padding: 12px 16px;
  border-left: 3px solid var(--orange);
}
</style>
