<!-- What someone said about a gain, field by field, held against arithmetic; prefilled from two results or from a pasted line. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import type { Workload } from '../../api/campaigns'
import { type ClaimIn, useCheckClaim, usePrefillClaim, type Versus } from '../../api/compare'
import ChoiceField from '../../ui/ChoiceField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import TextField from '../../ui/TextField.vue'
import { useProblems } from '../../composables/useProblems'
import { number, plain } from '../../ui/words/format'

const props = defineProps<{ versus: Versus; workloads: Workload[] }>()
const { mutateAsync: check, isPending, data: finding, reset } = useCheckClaim()
const { mutateAsync: prefill, isPending: reading } = usePrefillClaim()
const { problems, take, clear, at } = useProblems()

type Shape = 'pairs' | 'values' | 'steps'
const kinds = [
  { value: 'rate' as const, label: 'frames a second, a score: more is better' },
  { value: 'time' as const, label: 'a time: less is better' },
  { value: 'watts' as const, label: 'watts' },
  { value: 'degrees' as const, label: 'degrees' },
  { value: 'noise' as const, label: 'dB(A)' },
]
const figures = [
  { value: 'percent' as const, label: 'percent' },
  { value: 'factor' as const, label: 'a factor, such as 1.08' },
  { value: 'amount' as const, label: 'an amount, in its own unit' },
  { value: 'saved' as const, label: 'percent of it saved' },
]
const ways = [
  { value: 'more' as const, label: 'more, faster' },
  { value: 'less' as const, label: 'less, slower' },
]
const shapes = [
  { value: 'pairs' as const, label: 'before and after, of one title or several' },
  { value: 'values' as const, label: 'a chain: each value after the one before' },
  { value: 'steps' as const, label: 'gains one on top of the other' },
]
const kind = ref<ClaimIn['kind']>('rate')
const figure = ref<ClaimIn['figure']>('percent')
const way = ref<ClaimIn['way']>('more')
const claimed = ref('')
const shape = ref<Shape>('pairs')
const pairs = ref([{ before: '', after: '' }])
/** A chain of values, or of gains. */
const chain = ref(['', ''])
const pasted = ref('')
const unsure = ref(false)

const results = computed(() =>
  props.workloads.flatMap((workload, index) => {
    const before = props.versus.reference[index]?.summary?.mean
    if (before == null) return []
    return props.versus.candidates.flatMap((candidate) => {
      const after = candidate.column.cells[index]?.side.summary?.mean
      return after == null
        ? []
        : [
            {
              value: JSON.stringify([workload.measure === 'time' ? 'time' : 'rate', plain(before), plain(after)]),
              label: `${workload.name}: ${candidate.title}`,
            },
          ]
    })
  }),
)
/** As typed, without the thin spaces between thousands that screens write. */
const bare = (text: string): string => text.replace(/[\s\u202f\u00a0]/g, '').replace('−', '-')
function fromResults(value: string | undefined): void {
  if (!value) return
  const [of, before, after] = JSON.parse(value) as [ClaimIn['kind'], string, string]
  forget()
  kind.value = of
  shape.value = 'pairs'
  pairs.value = [{ before: bare(before), after: bare(after) }]
}
async function fromLine(): Promise<void> {
  forget()
  unsure.value = false
  try {
    const { fields } = await prefill(pasted.value)
    unsure.value = !fields
    if (!fields) return
    kind.value = fields.kind
    figure.value = fields.figure
    way.value = fields.way
    claimed.value = fields.claimed
    shape.value = 'pairs'
    pairs.value = [{ before: fields.before, after: fields.after }]
  } catch (trouble) {
    take(trouble)
  }
}
function forget(): void {
  clear()
  reset()
}
async function ask(): Promise<void> {
  forget()
  const numbers = chain.value.filter((text) => text.trim())
  try {
    await check({
      kind: kind.value,
      figure: figure.value,
      way: way.value,
      claimed: claimed.value,
      pairs: shape.value === 'pairs' ? pairs.value : [],
      values: shape.value === 'values' ? numbers : [],
      steps: shape.value === 'steps' ? numbers : [],
    })
  } catch (trouble) {
    take(trouble)
  }
}
const suffix = computed(() => (figure.value === 'percent' || figure.value === 'saved' ? ' %' : ''))
</script>

<template>
  <section aria-label="Someone says" data-test="claim">
    <h2>Someone says …</h2>
    <p class="quiet">
      Type the numbers as they were said: their decimals tell how far they were rounded, and the answer counts with that.
    </p>
    <form class="form-grid" @submit.prevent="ask" @input="reset()">
      <ChoiceField v-model="kind" label="What was measured" :options="kinds" />
      <ChoiceField v-model="shape" label="Given as" :options="shapes" />
      <template v-if="shape === 'pairs'">
        <div v-for="(pair, index) in pairs" :key="index" class="wide pair">
          <TextField
            v-model="pair.before"
            :label="pairs.length > 1 ? `Before, ${index + 1}` : 'Before'"
            hint="8421"
            :most="40"
            :trouble="at(`pairs.${index}.before`)"
          />
          <TextField
            v-model="pair.after"
            :label="pairs.length > 1 ? `After, ${index + 1}` : 'After'"
            hint="9105"
            :most="40"
            :trouble="at(`pairs.${index}.after`)"
          />
          <AButton v-if="pairs.length > 1" type="text" class="remove" @click="pairs.splice(index, 1)">Remove</AButton>
        </div>
        <span class="wide"><AButton size="small" @click="pairs.push({ before: '', after: '' })">Add another title</AButton></span>
      </template>
      <div v-else class="wide pair">
        <TextField
          v-for="(_, index) in chain"
          :key="index"
          v-model="chain[index]!"
          :label="shape === 'values' ? `Value ${index + 1}` : `Gain ${index + 1}, %`"
          :most="40"
          :trouble="at(`${shape}.${index}`)"
        />
        <AButton size="small" class="remove" @click="chain.push('')">Add another</AButton>
      </div>
      <ChoiceField v-model="figure" label="Said in" :options="figures" />
      <TextField
        v-model="claimed"
        :label="`What was said${suffix ? ',' + suffix : ''}`"
        hint="7.8"
        :most="40"
        :trouble="at('claimed')"
      />
      <ChoiceField v-model="way" label="Which way" :options="ways" />
      <ProblemList
        class="wide"
        :problems="problems.filter((one) => !at(one.where) || !/^(pairs|values|steps|claimed)\b/.test(one.where))"
        title="Not checked:"
      />
      <span class="wide"
        ><AButton type="primary" html-type="submit" :loading="isPending" :disabled="!claimed.trim()">Check it</AButton></span
      >
    </form>
    <div v-if="finding" class="finding" aria-live="polite" data-test="finding">
      <p>
        <strong :class="finding.right ? 'gain' : 'warning'">{{ finding.says.text }}</strong>
      </p>
      <p v-for="one in finding.explanations" :key="one.mistake">
        <strong>{{ one.mistake }}</strong>: {{ one.why }} It gives {{ number(one.gives, 2) }}{{ suffix }}.
      </p>
    </div>
    <details class="fill">
      <summary>Fill in from two results above, or from a line</summary>
      <ChoiceField
        v-if="results.length"
        :model-value="undefined"
        label="Two results of the logbook"
        :options="results"
        @update:model-value="(value) => fromResults(value as string | undefined)"
      />
      <form class="ask" @submit.prevent="fromLine">
        <TextField v-model="pasted" label="A line" hint="120 s to 103 s, 14 % less time" :most="500" />
        <AButton html-type="submit" :loading="reading" :disabled="!pasted.trim()">Fill in</AButton>
      </form>
      <p v-if="unsure" class="caution" role="alert">
        This line can be read in more than one way. Type its numbers into the fields.
      </p>
    </details>
  </section>
</template>

<style scoped>
form {
  margin: 8px 0;
}
.form-grid {
  grid-template-columns: repeat(2, minmax(0, 1fr));
}
@media (max-width: 600px) {
  .form-grid {
    grid-template-columns: minmax(0, 1fr);
  }
}
.pair {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(120px, 1fr));
  gap: 8px;
  align-items: start;
}
.remove {
  margin-top: 22px;
  justify-self: start;
}
.ask {
  display: flex;
  gap: 8px;
  align-items: end;
}
.ask > div {
  flex: 1;
}
.fill {
  margin-top: 8px;
}
.finding {
  margin-top: 8px;
  padding: 8px 16px;
  border-left: 3px solid var(--petrol);
  background: var(--sheet);
}
</style>
