<!-- What a kept setting rests on, as it was on the day it was kept. -->
<script setup lang="ts">
import { computed } from 'vue'

import type { KeptSetting } from '../../api/keep'
import { counted, day, gain, gainRange, number, signed } from '../../ui/words/format'

const props = defineProps<{ keptSetting: KeptSetting }>()
interface Span {
  value: number
  low: number | null
  high: number | null
}
interface Evidence {
  goal: string
  standing: string
  speed: Span | null
  watts: number | null
  degrees: Span | null
  noise: Span | null
  approaches: string[]
  hours: number
  failures: number
  runs: string[]
  build: number | null
  workloads: string[]
  instruments: string[]
  conditions: { name: string; state: string }[]
  version: string
}
const evidence = computed(() => props.keptSetting.evidence as unknown as Evidence)
const said = computed(() => {
  const one = evidence.value
  const found: string[] = []
  if (one.speed) {
    const range = one.speed.low !== null && one.speed.high !== null ? ` (${gainRange(one.speed.low, one.speed.high)})` : ''
    found.push(`overall speed ${gain(one.speed.value)}${range}`)
  }
  if (one.watts !== null) found.push(`${signed(one.watts, 0)} W`)
  if (one.degrees) found.push(`${signed(one.degrees.value, 1)} °C over room`)
  if (one.noise) found.push(`${signed(one.noise.value, 1)} dB(A)`)
  return found.join(', ')
})
const open = computed(() => evidence.value.conditions.filter((one) => one.state !== 'shown'))
</script>

<template>
  <section aria-label="What it rests on">
    <h3>What it rests on, as of {{ day(keptSetting.kept_at) }}</h3>
    <p v-if="said">
      Against stock: <span class="figure estimate said">{{ said }}</span>.
    </p>
    <p>
      {{ counted(evidence.runs.length, 'run') }}, {{ number(evidence.hours, 1) }} h,
      {{ evidence.failures ? counted(evidence.failures, 'failure') : 'no failure' }}; proved by
      {{ evidence.approaches.length ? evidence.approaches.join(', ') : 'no approach' }}.
    </p>
    <p class="quiet small">
      {{ evidence.goal.charAt(0).toUpperCase() + evidence.goal.slice(1) }}:
      {{ evidence.standing === 'stock' ? 'kept at stock' : evidence.standing || 'not judged' }}. Build {{ evidence.build }};
      {{ evidence.workloads.join(', ') || 'no workload'
      }}{{ evidence.instruments.length ? `; watts read by ${evidence.instruments.map((one) => `“${one}”`).join(', ')}` : '' }};
      Trelvo {{ evidence.version }}.
    </p>
    <p v-if="open.length && !keptSetting.at_stock" class="caution small">
      Was not shown: {{ open.map((one) => one.name).join('; ') }}.
    </p>
  </section>
</template>

<style scoped>
.said {
  white-space: normal;
}
</style>
