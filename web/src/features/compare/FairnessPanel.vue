<!-- Like for like? Grade, reasons, what remains comparable; every condition on request. -->
<script setup lang="ts">
import type { Candidate } from '../../api/compare'
import SettingSwatch from '../../ui/SettingSwatch.vue'

defineProps<{ candidates: Candidate[] }>()
const marks = { same: '=', different: '≠', unknown: '?', studied: '↔' } as const
</script>

<template>
  <section>
    <h2>Fair?</h2>
    <p v-if="candidates.length === 0" class="quiet">Choose candidates to see.</p>
    <div v-for="candidate in candidates" :key="candidate.key" class="one">
      <p>
        <SettingSwatch :setting-id="candidate.setting_id" />
        {{ candidate.short }}:
        <strong :class="{ caution: candidate.fairness.grade !== 'fair' }">{{ candidate.fairness.grade }}</strong>
      </p>
      <p v-for="reason in candidate.fairness.reasons" :key="reason.text">{{ reason.text }}</p>
      <p class="quiet">
        {{
          candidate.fairness.comparable.length
            ? `Comparable: ${candidate.fairness.comparable.join(', ')}.`
            : 'Nothing is comparable like this.'
        }}
      </p>
      <details>
        <summary>Every condition</summary>
        <table class="ledger">
          <thead>
            <tr>
              <th></th>
              <th>Condition</th>
              <th>Reference</th>
              <th>Candidate</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="aspect in candidate.fairness.aspects" :key="aspect.key">
              <td :class="{ caution: aspect.state !== 'same' }" :title="aspect.state">{{ marks[aspect.state] }}</td>
              <td>{{ aspect.name }}</td>
              <td>{{ aspect.reference.text }}</td>
              <td>{{ aspect.candidate.text }}</td>
            </tr>
          </tbody>
        </table>
      </details>
    </div>
  </section>
</template>

<style scoped>
.one {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
summary {
  cursor: pointer;
  color: var(--petrol);
}
</style>
