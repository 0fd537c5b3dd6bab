<!-- Two instruments against each other, over the runs in which both read. -->
<script setup lang="ts">
import { Button as AButton, message } from 'ant-design-vue'
import { computed, ref, watch } from 'vue'

import { problemsOf, whyOf } from '../../api/client'
import { type AgreementBy, type Instrument, useAgreement, useKeepInstrument } from '../../api/instruments'
import AgreementChart from '../../charts/AgreementChart.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { number, signed } from '../../ui/words/format'
import SideSheet from '../../ui/SideSheet.vue'

const props = defineProps<{ rigId: number; instruments: Instrument[] }>()
const open = defineModel<boolean>('open', { required: true })
const first = ref<number | undefined>(props.instruments[0]?.id)
const second = ref<number | undefined>(
  props.instruments.find((one) => one.id !== first.value && one.quantity === props.instruments[0]?.quantity)?.id,
)
/** Run by run or moment by moment; until someone chooses, whichever has more pairs. */
const by = ref<AgreementBy>()
watch([first, second], () => (by.value = undefined))
const { data: found, error } = useAgreement(first, second, by)
const byWords: Record<AgreementBy, string> = { runs: 'run by run', moments: 'moment by moment, in the logs' }
const { mutateAsync, isPending } = useKeepInstrument()
const choices = computed(() => props.instruments.map((one) => ({ value: one.id, label: `${one.name} (${one.quantity})` })))
const nameOf = (id: number | undefined): string => props.instruments.find((one) => one.id === id)?.name ?? ''

/** The offset becomes the second instrument's correction; its readings stay as they were read. */
async function apply(): Promise<void> {
  const instrument = props.instruments.find((one) => one.id === second.value)
  const offset = found.value?.agreement.offset
  if (!instrument || offset == null) return
  const sd = found.value!.agreement.offset_sd ?? 0
  try {
    await mutateAsync({
      rigId: props.rigId,
      seen: instrument,
      body: { ...instrument, offset: Number(offset.toPrecision(4)), offset_sd: Number(sd.toPrecision(2)) },
    })
    void message.success(`${instrument.name} is corrected from now on; every figure says so.`)
    open.value = false
  } catch (trouble) {
    void message.error(whyOf(trouble))
  }
}
</script>

<template>
  <SideSheet v-model:open="open" title="Two instruments against each other" :width="560">
    <div class="form-grid">
      <ChoiceField v-model="first" label="First" :options="choices" />
      <ChoiceField v-model="second" label="Second" :options="choices" />
    </div>
    <ProblemList v-if="error" :problems="problemsOf(error)" class="gap" />
    <template v-else-if="found">
      <p class="gap">
        <strong>{{ found.agreement.says.text }}</strong>
      </p>
      <ChoiceField
        v-if="found.could.length > 1"
        :model-value="found.by"
        label="Compared"
        :options="found.could.map((one) => ({ value: one, label: byWords[one] }))"
        @update:model-value="(one) => (by = one as AgreementBy)"
      />
      <p class="quiet">{{ found.says }}</p>
      <p v-if="found.parts_differ" class="caution">
        They read different parts, so the difference holds what lies between them (losses, the rest of the machine), not only an
        error.
      </p>
      <table class="ledger gap">
        <tbody>
          <tr>
            <td>{{ found.figure }}, pairs</td>
            <td class="number figure">{{ found.agreement.pairs }}</td>
          </tr>
          <tr>
            <td>{{ nameOf(first) }} less {{ nameOf(second) }}, on average</td>
            <td class="number figure estimate">
              {{ signed(found.agreement.bias, 1) }} {{ found.unit }}
              <template v-if="found.agreement.bias_low != null && found.agreement.bias_high != null">
                ({{ signed(found.agreement.bias_low, 1) }} to {{ signed(found.agreement.bias_high, 1) }})</template
              >
            </td>
          </tr>
          <tr v-if="found.agreement.low != null && found.agreement.high != null">
            <td>Single pairs differ between</td>
            <td class="number figure estimate">
              {{ signed(found.agreement.low, 1) }} and {{ signed(found.agreement.high, 1) }} {{ found.unit }}
            </td>
          </tr>
          <tr v-if="found.agreement.slope != null && found.agreement.slope_low != null && found.agreement.slope_high != null">
            <td>The first rises by, for 1 of the second</td>
            <td class="number figure estimate">
              {{ number(found.agreement.slope, 3) }} ({{ number(found.agreement.slope_low, 3) }} to
              {{ number(found.agreement.slope_high, 3) }})
            </td>
          </tr>
        </tbody>
      </table>
      <AgreementChart :pairs="found.pairs" :agreement="found.agreement" :unit="found.unit" />
      <p v-if="found.agreement.offset != null && !found.parts_differ" class="gap">
        <AButton :loading="isPending" @click="apply"
          >Correct {{ nameOf(second) }} by {{ signed(found.agreement.offset, 1) }} {{ found.unit }}</AButton
        >
        <span class="quiet"> Applies once you confirm; nothing is changed without asking.</span>
      </p>
    </template>
  </SideSheet>
</template>

<style scoped>
.gap {
  margin-top: 12px;
}
</style>
