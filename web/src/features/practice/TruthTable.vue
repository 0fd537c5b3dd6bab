<!-- The truth about a specimen, and what each way of climbing it kept. -->
<script setup lang="ts">
import type { Practice } from '../../api/practice'
import { hoursWords, knobValue, number, often } from '../../ui/words/format'
import TableTools from '../../ui/TableTools.vue'

const props = defineProps<{ practice: Practice; truth: NonNullable<Practice['truth']> }>()
const words = (value: number): string => (value === 0 ? 'stock' : `${knobValue(value, 0)} MHz`)
const steps = (short: number): string =>
  short === 0
    ? 'the best there is'
    : `${Math.abs(short)} ${Math.abs(short) === 1 ? 'step' : 'steps'} ${short > 0 ? 'short' : 'too far'}`
const headers = ['who', 'kept MHz', 'true failures an hour', 'within the risk', 'steps short', 'minutes', 'failures', 'tests']
const rows = (): unknown[][] =>
  props.truth.results.map((one) => [
    one.who,
    one.kept,
    one.true_per_h,
    one.within,
    one.short_steps,
    one.minutes,
    one.failures,
    one.tests,
  ])
</script>

<template>
  <section class="sheet truth" aria-label="The truth" data-test="truth">
    <p class="head">
      Its edge lies at
      <strong class="figure">{{ truth.edge === null ? 'more than the range' : `+${number(truth.edge, 0)} MHz` }}</strong>; the
      best setting within one failure in {{ hoursWords(practice.accepted_hours) }} was
      <strong class="figure">{{ words(truth.best) }}</strong>.
    </p>
    <table class="ledger">
      <thead>
        <tr>
          <th>Who</th>
          <th class="number">Kept</th>
          <th>Against the best</th>
          <th>True failure rate</th>
          <th>Risk</th>
          <th class="number">Bench time</th>
          <th class="number">Failures</th>
          <th class="number">Tests</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in truth.results" :key="one.who" :class="{ mine: one.mine }">
          <td>{{ one.who }}</td>
          <td class="number figure">{{ words(one.kept) }}</td>
          <td>{{ steps(one.short_steps) }}</td>
          <td class="figure">{{ often(one.true_per_h) }}</td>
          <td>
            <span :class="one.within ? 'holds' : 'warning'">{{ one.within ? 'within' : 'too high' }}</span>
          </td>
          <td class="number figure">{{ number(one.minutes, 0) }} min</td>
          <td class="number figure">{{ one.failures }}</td>
          <td class="number figure">{{ one.tests }}</td>
        </tr>
      </tbody>
    </table>
    <p class="foot quiet">
      <span
        >The strategies climbed the same specimen with the same bench time. Specimen {{ practice.seed }} is always this one.</span
      >
      <TableTools :name="`Practice on specimen ${practice.seed}`" :headers="headers" :rows="rows() as never" />
    </p>
  </section>
</template>

<style scoped>
.truth {
  margin-top: 16px;
  padding: 12px 16px;
}
.head {
  margin-bottom: 8px;
  font-size: 16px;
  line-height: 24px;
}
.mine td {
  font-weight: 700;
}
.holds {
  color: var(--petrol);
}
.foot {
  display: flex;
  gap: 24px;
  justify-content: space-between;
  margin-top: 8px;
  font-size: 13px;
}
</style>
