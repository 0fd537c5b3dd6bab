<!-- On the simulator: hours of use in one go, and what time does to a rig, to practise with. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { type Campaign, testable } from '../../api/campaigns'
import { type KeptSetting, useKeptSettingActs } from '../../api/keep'
import { useProblems } from '../../composables/useProblems'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'

const props = defineProps<{ keptSetting: KeptSetting; campaign: Campaign }>()
const { simulatorUse, simulatorTime } = useKeptSettingActs()
const { problems, take, clear } = useProblems()
const hours = ref<number | null>(40)
const choices = computed(() => testable(props.campaign).map((one) => ({ value: one.id, label: one.title })))
const chosen = ref<number | undefined>()
const workloadId = computed({
  get: () => chosen.value ?? testable(props.campaign).find((one) => one.kind === 'title')?.id ?? choices.value[0]?.value,
  set: (id) => (chosen.value = id),
})
const happened = ref(false)

async function use(): Promise<void> {
  clear()
  try {
    await simulatorUse.mutateAsync({ id: props.keptSetting.id, hours: hours.value ?? 0, workloadId: workloadId.value ?? 0 })
  } catch (trouble) {
    take(trouble)
  }
}
async function pass(): Promise<void> {
  clear()
  try {
    await simulatorTime.mutateAsync({ id: props.keptSetting.id, workloadId: workloadId.value ?? 0 })
    happened.value = true
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <details class="simulator">
    <summary>On the simulator: use it for hours in one go</summary>
    <div class="row">
      <NumberField v-model="hours" label="Hours" unit="h" width="110px" />
      <ChoiceField v-model="workloadId" label="With" :options="choices" class="with" />
      <AButton :loading="simulatorUse.isPending.value" @click="use">Use it</AButton>
      <AButton :loading="simulatorTime.isPending.value" @click="pass">Let something happen to the rig</AButton>
    </div>
    <p class="quiet">
      {{
        happened
          ? 'Something has happened; use it for some hours and see.'
          : 'What happens is drawn by chance and stays hidden: age, a new driver, a connector, or nothing to do with the tuning.'
      }}
    </p>
    <ProblemList :problems="problems" title="Not done:" />
  </details>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: end;
  margin: 8px 0;
}
.with {
  width: 240px;
}
</style>
