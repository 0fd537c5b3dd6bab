<!-- What was said and noticed during a run. -->
<script setup lang="ts">
import type { Live } from '../../api/live'
import { moment, span } from '../../ui/words/format'

defineProps<{ marks: Live['marks'] }>()
const words: Record<string, string> = {
  phase: 'Phase',
  note: 'Note',
  breach: 'Safety limit',
  confirmation: 'Confirmed',
  contact: 'Contact',
  outcome: 'Outcome',
}
</script>

<template>
  <section aria-label="Marks">
    <h2>Along the way</h2>
    <table v-if="marks.length" class="ledger">
      <thead>
        <tr>
          <th class="number">Into the run</th>
          <th>What</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="mark in marks" :key="mark.made_at + mark.text">
          <td class="number figure" :title="moment(mark.made_at)">{{ span(mark.at_s) }}</td>
          <td :class="{ warning: mark.kind === 'breach', caution: mark.kind === 'contact' }">
            {{ words[mark.kind] ?? mark.kind }}
          </td>
          <td>{{ mark.text }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet">Nothing noted yet.</p>
  </section>
</template>
