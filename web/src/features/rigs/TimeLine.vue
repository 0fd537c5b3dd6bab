<!-- The years of a rig in lanes: builds, campaigns, what was kept and used, failures, journal; what is under the pointer in words. -->
<script setup lang="ts">
import { useElementSize, useNow } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import type { RigEvent } from '../../api/journal'
import { day } from '../../ui/words/format'

const props = defineProps<{ events: RigEvent[] }>()
const router = useRouter()
const lanes: { kind: RigEvent['kind']; name: string }[] = [
  { kind: 'build', name: 'Builds' },
  { kind: 'campaign', name: 'Campaigns' },
  { kind: 'kept', name: 'Kept' },
  { kind: 'in use', name: 'In use' },
  { kind: 'failure', name: 'Failures' },
  { kind: 'journal', name: 'Journal' },
]
const LEFT = 96
const LANE = 26
const box = ref<HTMLElement>()
const { width } = useElementSize(box)
const now = useNow({ interval: 60_000 })
const shown = computed(() => lanes.filter((lane) => props.events.some((one) => one.kind === lane.kind)))
const first = computed(() => Math.min(...props.events.map((one) => Date.parse(one.at)), now.value.getTime() - 86_400_000))
const scale = computed(() => Math.max(width.value - LEFT - 24, 100) / (now.value.getTime() - first.value))
const x = (iso: string | number): number => LEFT + ((typeof iso === 'number' ? iso : Date.parse(iso)) - first.value) * scale.value
const until = (one: RigEvent): number => (one.until ? x(one.until) : x(now.value.getTime()))
const y = (kind: RigEvent['kind']): number => 24 + LANE * shown.value.findIndex((lane) => lane.kind === kind)
const lasts = (one: RigEvent): boolean => one.kind === 'in use'
const words = (one: RigEvent): string => `${day(one.at)}${one.until ? ` to ${day(one.until)}` : ''}: ${one.title}. ${one.says}`
const pointed = ref<RigEvent | null>(null)
const newest = computed(() => [...props.events].reverse())
/** Dates at the ends and two between: enough to read the scale by. */
const ticks = computed(() =>
  [0, 1, 2, 3].map((part) => new Date(first.value + ((now.value.getTime() - first.value) * part) / 3).toISOString()),
)
const height = computed(() => 24 + LANE * shown.value.length + 20)
const go = (one: RigEvent): void => void (one.where && router.push(one.where))
</script>

<template>
  <section aria-label="The years of this rig" data-test="timeline">
    <div ref="box" class="sheet box">
      <svg
        v-if="width"
        :width="width"
        :height="height"
        role="img"
        aria-label="Line of time; every event is listed below in words"
      >
        <g v-for="lane in shown" :key="lane.kind">
          <text x="12" :y="y(lane.kind) + 4" class="lane">{{ lane.name }}</text>
          <line :x1="LEFT" :x2="width - 16" :y1="y(lane.kind)" :y2="y(lane.kind)" class="rule" />
        </g>
        <g
          v-for="(one, index) in events"
          :key="index"
          class="event"
          @mouseenter="pointed = one"
          @mouseleave="pointed = null"
          @click="go(one)"
        >
          <title>{{ words(one) }}</title>
          <rect
            v-if="lasts(one)"
            :x="x(one.at)"
            :y="y(one.kind) - 5"
            :width="Math.max(until(one) - x(one.at), 3)"
            height="10"
            :class="{ ended: one.until }"
          />
          <path v-else-if="one.kind === 'failure'" :d="`M ${x(one.at)} ${y(one.kind) - 7} l 7 12 l -14 0 z`" class="failure" />
          <rect v-else-if="one.kind === 'journal'" :x="x(one.at) - 4" :y="y(one.kind) - 4" width="8" height="8" class="journal" />
          <circle v-else :cx="x(one.at)" :cy="y(one.kind)" r="5" />
        </g>
        <text
          v-for="(tick, index) in ticks"
          :key="tick"
          :x="x(tick)"
          :y="height - 6"
          :text-anchor="index === 0 ? 'start' : index === 3 ? 'end' : 'middle'"
          class="tick"
        >
          {{ day(tick) }}
        </text>
      </svg>
    </div>
    <p class="pointed" aria-live="polite">{{ pointed ? words(pointed) : '' }}</p>
    <details>
      <summary>In words ({{ events.length }})</summary>
      <ul>
        <li v-for="(one, index) in newest" :key="index">{{ words(one) }}</li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
.box {
  padding: 4px 0;
}
.lane,
.tick {
  fill: var(--quiet);
  font-size: 12px;
}
.rule {
  stroke: var(--rule);
}
.event {
  cursor: pointer;
}
circle,
.event rect {
  fill: var(--petrol);
}
.event rect.ended {
  fill: none;
  stroke: var(--petrol);
}
.event rect.journal {
  fill: var(--ink);
}
.failure {
  fill: var(--orange);
}
.pointed {
  min-height: 20px;
}
</style>
