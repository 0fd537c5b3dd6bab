<!-- Practice: a hidden specimen to climb, and what came of earlier ones. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import { useBeginPractice, usePractices } from '../../api/practice'
import { knobValue, moment } from '../../ui/words/format'
import LoadState from '../../ui/LoadState.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import TermWord from '../../ui/TermWord.vue'

const router = useRouter()
const { data: practices, isPending, error, refetch } = usePractices()
const { mutateAsync, isPending: beginning } = useBeginPractice()
const { problems, take, clear, at } = useProblems()
const seed = ref<number | null>(null)
const budget = ref<number | null>(120)
const hours = ref<number | null>(50)

async function begin(): Promise<void> {
  clear()
  try {
    // which specimen is left to chance unless a number is typed; the number is shown afterwards
    const chosen = seed.value ?? Math.floor(Math.random() * 1_000_000)
    const practice = await mutateAsync({ seed: chosen, budget_minutes: budget.value ?? 0, accepted_hours: hours.value ?? 0 })
    await router.push({ name: 'practice', params: { id: practice.id } })
  } catch (trouble) {
    take(trouble)
  }
}
document.title = 'Practice – Trelvo'
</script>

<template>
  <h1 class="title">Practice bench</h1>
  <p class="lead">
    A hidden <TermWord term="Specimen">specimen</TermWord> of the <TermWord term="Simulator">simulator</TermWord>: find how far
    its core clock holds, in limited bench time. Tests answer at once, so an evening’s climb takes minutes. At the end you see its
    true edge, the best setting there was, and what each strategy would have kept on the same specimen.
  </p>
  <form class="sheet begin" @submit.prevent="begin">
    <NumberField v-model="seed" label="Specimen" hint="blank = random" :trouble="at('seed')" />
    <NumberField v-model="budget" label="Bench time" unit="min" :trouble="at('budget_minutes')" />
    <NumberField v-model="hours" label="Accept one failure in" unit="h" :trouble="at('accepted_hours')" />
    <AButton type="primary" html-type="submit" :loading="beginning">Begin</AButton>
    <ProblemList :problems="problems" title="Not begun:" class="wide" />
  </form>
  <LoadState :pending="isPending" :error="error" what="The list of practices" @again="refetch">
    <h2 class="next">Earlier ones</h2>
    <p v-if="!practices?.length" class="quiet">None yet. Begin one above: nothing real can break.</p>
    <table v-else class="ledger">
      <thead>
        <tr>
          <th>Begun</th>
          <th>Specimen</th>
          <th class="number">Tests</th>
          <th>Kept</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in practices" :key="one.id">
          <td>{{ moment(one.created_at) }}</td>
          <td class="figure">{{ one.seed }}</td>
          <td class="number figure">{{ one.tests.length }}</td>
          <td>{{ one.kept === null ? 'not ended' : one.kept === 0 ? 'stock' : `${knobValue(one.kept, 0)} MHz` }}</td>
          <td>
            <RouterLink :to="{ name: 'practice', params: { id: one.id } }">{{ one.kept === null ? 'Go on' : 'Look' }}</RouterLink>
          </td>
        </tr>
      </tbody>
    </table>
  </LoadState>
</template>

<style scoped>
.title {
  margin: 16px 0 8px;
}
.lead {
  max-width: 760px;
  margin-bottom: 16px;
}
.begin {
  display: grid;
  grid-template-columns: 1.4fr 1fr 1fr auto;
  gap: 16px;
  align-items: end;
  max-width: 760px;
  padding: 16px;
}
.next {
  margin-top: 24px;
}
</style>
