<!-- The limits that stop a run: set here, checked on every reading. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { Button as AButton, message } from 'ant-design-vue'
import { computed, ref, watch } from 'vue'

import { type SafetyLimit, useSafetyLimits, useKeepSafetyLimits } from '../../api/live'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import TextField from '../../ui/TextField.vue'
import { useStageCampaign } from '../../composables/useStageCampaign'
import TermWord from '../../ui/TermWord.vue'

interface Draft {
  kind: SafetyLimit['kind']
  limit: number | null
  channel: string
}

const campaign = useStageCampaign()
const { data: kept } = useSafetyLimits(() => campaign.value.id)
const { mutateAsync, isPending } = useKeepSafetyLimits()
const { problems, take, clear, at } = useProblems()
const drafts = ref<Draft[]>([])
const editing = ref(false)
/** The limits as they stood when someone began to change them. */
const seen = ref<SafetyLimit[]>([])
function change(): void {
  seen.value = kept.value?.safety_limits ?? []
  editing.value = true
}

watch(
  kept,
  (now) =>
    !editing.value &&
    (drafts.value = (now?.safety_limits ?? []).map((safetyLimit) => ({ ...safetyLimit, channel: safetyLimit.channel ?? '' }))),
  { immediate: true },
)

const kinds = computed(() => registry.value.limits)
const choices = computed(() => kinds.value.map((kind) => ({ value: kind.kind as SafetyLimit['kind'], label: kind.kind })))
const knobChoices = computed(() => campaign.value.knobs.map((knob) => ({ value: knob.key, label: knob.name.toLowerCase() })))
const means = (kind: string): string => kinds.value.find((one) => one.kind === kind)?.means ?? ''
function unit(safetyLimit: { kind: string; channel?: string }): string {
  if (safetyLimit.kind === 'voltage ceiling')
    return campaign.value.knobs.find((knob) => knob.key === safetyLimit.channel)?.unit ?? ''
  return kinds.value.find((one) => one.kind === safetyLimit.kind)?.unit ?? ''
}
function add(): void {
  drafts.value.push({ kind: 'temperature', limit: null, channel: '' })
}
async function keep(): Promise<void> {
  clear()
  const empty = drafts.value.flatMap((draft, i) =>
    draft.limit === null ? [{ where: `safety_limits.${i}.limit`, what: 'This is empty.', todo: 'Type the limit.' }] : [],
  )
  if (empty.length) {
    problems.value = empty
    return
  }
  try {
    const safetyLimits = drafts.value.map((draft) => ({ ...draft, limit: draft.limit! }))
    await mutateAsync({ campaignId: campaign.value.id, safetyLimits, seen: seen.value })
    editing.value = false
    void message.success('Safety limits kept.')
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <section aria-label="Safety limits">
    <div class="head">
      <h2><TermWord term="Safety limit">Safety limits</TermWord></h2>
      <AButton v-if="!editing" size="small" @click="change">Change</AButton>
    </div>
    <p class="quiet">Checked on every reading of a live run. A reading beyond one stops the run at once.</p>
    <template v-if="!editing">
      <table v-if="kept?.safety_limits.length" class="ledger">
        <tbody>
          <tr v-for="safetyLimit in kept.safety_limits" :key="safetyLimit.kind + safetyLimit.channel">
            <td>
              {{ safetyLimit.kind }} <span class="quiet">{{ safetyLimit.channel }}</span>
            </td>
            <td class="number figure">{{ safetyLimit.limit }} {{ unit(safetyLimit) }}</td>
            <td class="quiet">{{ means(safetyLimit.kind) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-else class="caution">None set: nothing stops a live run by itself.</p>
    </template>
    <form v-else class="edit" @submit.prevent="keep">
      <div v-for="(draft, index) in drafts" :key="index" class="row">
        <ChoiceField v-model="draft.kind" label="Limit of" :options="choices" :trouble="at(`safety_limits.${index}.kind`)" />
        <NumberField v-model="draft.limit" label="At" :unit="unit(draft)" :trouble="at(`safety_limits.${index}.limit`)" />
        <ChoiceField
          v-if="draft.kind === 'voltage ceiling'"
          v-model="draft.channel"
          label="Of the knob"
          :options="knobChoices"
          :trouble="at(`safety_limits.${index}.channel`)"
        />
        <TextField
          v-else-if="draft.kind !== 'hours'"
          v-model="draft.channel"
          label="Only in channel"
          :hint="draft.kind === 'power' ? 'the first one' : 'every one'"
          :most="120"
        />
        <span v-else></span>
        <AButton type="text" :aria-label="`Remove the limit of ${draft.kind}`" class="remove" @click="drafts.splice(index, 1)"
          >Remove</AButton
        >
      </div>
      <ProblemList :problems="problems" title="Not saved:" />
      <div class="acts">
        <AButton @click="add">Another limit</AButton>
        <AButton type="primary" html-type="submit" :loading="isPending">Save the safety limits</AButton>
      </div>
    </form>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
}
.edit {
  display: grid;
  gap: 12px;
  margin-top: 8px;
}
.row {
  display: grid;
  grid-template-columns: 160px 130px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: start;
}
.remove {
  margin-top: 22px;
}
.acts {
  display: flex;
  gap: 8px;
}
</style>
