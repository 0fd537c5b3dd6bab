<!-- Keeps the chosen setting: a name, what it is for, and what will be typed. -->
<script setup lang="ts">
import { Button as AButton, Checkbox as ACheckbox } from 'ant-design-vue'
import { computed, ref } from 'vue'

import type { Campaign } from '../../api/campaigns'
import { type KeptSettingUse, type KeepView, useKeptSettingActs } from '../../api/keep'
import { useProblems } from '../../composables/useProblems'
import ChoiceField from '../../ui/ChoiceField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import TextField from '../../ui/TextField.vue'
import { keptSettingUses } from './uses'

const props = defineProps<{ keep: KeepView; campaign: Campaign }>()
const { keep: act } = useKeptSettingActs()
const { problems, take, clear, at } = useProblems()
const one = computed(() =>
  [...props.keep.candidates, props.keep.stock].find((kept) => kept.judged.setting_id === props.keep.chosen_id),
)
const atStock = computed(() => props.keep.chosen_id === props.keep.stock.judged.setting_id)
const use = ref<KeptSettingUse | undefined>('every day')
const name = ref('')
const inUse = ref(true)
/** Kept although something is not shown: said plainly, and allowed. */
const open = computed(() => (one.value?.judged.conditions ?? []).filter((condition) => condition.state !== 'shown'))

async function save(): Promise<void> {
  clear()
  try {
    await act.mutateAsync({
      campaignId: props.campaign.id,
      body: {
        setting_id: props.keep.chosen_id,
        name: name.value || (keptSettingUses.find((known) => known.value === use.value)?.label ?? ''),
        use: use.value ?? 'every day',
        components: props.keep.components
          .filter((row) => row.decision.brought.tuned)
          .map((row) => row.decision.brought.component.key),
        in_use: inUse.value,
      },
    })
    name.value = ''
    window.scrollTo({ top: 0 })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <section id="keep-form" aria-label="Keep this setting" class="sheet form" data-test="keep-form">
    <h2>Keep {{ atStock ? 'stock' : 'this' }}</h2>
    <p v-if="atStock">{{ keep.stock_says.text }}</p>
    <table v-else class="lines">
      <tbody>
        <tr v-for="line in one?.lines ?? []" :key="line.knob">
          <td>{{ line.knob }}</td>
          <td class="figure">
            <strong>{{ line.value }}</strong>
          </td>
          <td class="quiet figure">stock {{ line.stock }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="open.length && !atStock" class="caution">
      Not shown: {{ open.map((condition) => condition.name.text).join('; ') }}. You may keep it all the same; its card will say
      so.
    </p>
    <form @submit.prevent="save">
      <ChoiceField v-model="use" label="What for" :options="keptSettingUses" />
      <TextField
        v-model="name"
        label="Name"
        :hint="keptSettingUses.find((known) => known.value === use)?.label"
        :most="80"
        :trouble="at('name')"
      />
      <ACheckbox v-model:checked="inUse">The rig runs with it from now on</ACheckbox>
      <ProblemList :problems="problems.filter((problem) => problem.where !== 'name')" title="Not kept:" />
      <AButton type="primary" html-type="submit" :loading="act.isPending.value"
        >Keep {{ atStock ? 'stock' : 'this setting' }}</AButton
      >
    </form>
  </section>
</template>

<style scoped>
.form {
  display: grid;
  gap: 12px;
  align-content: start;
  padding: 12px 16px 16px;
}
form {
  display: grid;
  gap: 12px;
  justify-items: start;
}
form > div {
  width: 100%;
}
.lines {
  border-collapse: collapse;
}
.lines td {
  padding: 2px 12px 2px 0;
}
</style>
