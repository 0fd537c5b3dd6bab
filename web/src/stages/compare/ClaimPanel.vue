<!-- What someone said, held against arithmetic. -->
<script setup lang="ts">
import { Button as AButton, Input as AInput } from 'ant-design-vue'
import { computed, ref } from 'vue'

import type { Workload } from '../../api/campaigns'
import { useCheckClaim, type Versus } from '../../api/compare'
import { plain } from '../../words/format'
import ChoiceField from '../../parts/ChoiceField.vue'
import ProblemList from '../../parts/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'

const props = defineProps<{ versus: Versus; workloads: Workload[] }>()
const { mutateAsync, isPending, data } = useCheckClaim()
const { problems, take, clear } = useProblems()
const text = ref('')

const results = computed(() =>
  props.workloads.flatMap((workload, index) => {
    const before = props.versus.reference[index]?.summary?.mean
    if (before == null) return []
    return props.versus.candidates.flatMap((candidate) => {
      const after = candidate.column.cells[index]?.side.summary?.mean
      const unit = workload.measure === 'time' ? ' s' : ''
      return after == null
        ? []
        : [{ value: `${plain(before)}${unit} to ${plain(after)}${unit}, `, label: `${workload.name}: ${candidate.title}` }]
    })
  }),
)

async function check(): Promise<void> {
  clear()
  try {
    await mutateAsync(text.value)
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <section>
    <h2>Someone says …</h2>
    <p class="quiet">Type a claim with its numbers, or take two results from above and add what was said about them.</p>
    <form class="ask" @submit.prevent="check">
      <AInput v-model:value="text" placeholder="8421 to 9105, 7.8 % faster" aria-label="The claim" :maxlength="500" />
      <AButton type="primary" html-type="submit" :loading="isPending" :disabled="!text.trim()">Check it</AButton>
    </form>
    <ChoiceField
      v-if="results.length"
      :model-value="undefined"
      label="Take two results from above"
      :options="results"
      @update:model-value="(value) => (text = String(value))"
    />
    <p class="quiet small">
      Also: “120 s to 103 s, 14 % faster”, “60 to 80, 200 to 210, 12.5 % more”, “17.0 % then 8.5 %, together 25.5 %”, “9,105 vs
      8,421 points, 1.08x”, “300 W to 240 W, 20 % less”, “12 ms to 10 ms, saves 2 ms”.
    </p>
    <ProblemList :problems="problems" />
    <div v-if="data && !problems.length" class="finding" aria-live="polite" data-test="finding">
      <p class="quiet">{{ data.claim.understood }}</p>
      <p>
        <strong :class="data.finding.right ? 'gain' : 'warning'">{{ data.finding.sentence }}</strong>
      </p>
      <p v-for="one in data.finding.explanations" :key="one.mistake">
        <strong>{{ one.mistake }}</strong>: {{ one.why }} It gives {{ one.gives.toFixed(data.claim.decimals + 1)
        }}{{ data.claim.figure === 'percent' ? ' %' : '' }}.
      </p>
    </div>
  </section>
</template>

<style scoped>
.ask {
  display: flex;
  gap: 8px;
  margin: 8px 0;
}
.small {
  margin-top: 4px;
  font-size: 13px;
}
.finding {
  margin-top: 8px;
  padding: 8px 16px;
  border-left: 3px solid var(--petrol);
  background: var(--sheet);
}
</style>
