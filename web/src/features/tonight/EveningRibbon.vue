<!-- An evening at a glance: each stretch as long as it takes, the hours below. Says nothing that the list below does not. -->
<script setup lang="ts">
import { computed } from 'vue'

import type { Tonight } from '../../api/tonight'
import { clock } from '../../ui/words/format'

const props = defineProps<{ plan: Tonight }>()
const from = computed(() => Date.parse(props.plan.begins_at))
const long = computed(() => Date.parse(props.plan.ends_at) - from.value)
const place = (at: string | number): string =>
  `${(((typeof at === 'string' ? Date.parse(at) : at) - from.value) / long.value) * 100}%`
const parts = computed(() =>
  props.plan.stretches.map((one) => ({
    ...one,
    left: place(one.begins_at),
    width: `${((Date.parse(one.ends_at) - Date.parse(one.begins_at)) / long.value) * 100}%`,
  })),
)
/** Full hours; every second or third where there are many. */
const hours = computed(() => {
  const hour = 3_600_000
  const every = Math.max(1, Math.ceil(long.value / hour / 10)) * hour
  const found = []
  for (let at = Math.ceil(from.value / every) * every; at < from.value + long.value; at += every) found.push(at)
  return found
})
</script>

<template>
  <div class="ribbon" aria-hidden="true">
    <span
      v-for="one in parts"
      :key="one.title.text"
      :class="['part', { cut: !one.whole }]"
      :style="{ left: one.left, width: one.width }"
      :title="one.title.text"
    >
      <span class="label">{{ one.stage }}</span>
    </span>
    <span v-for="at in hours" :key="at" class="hour figure" :style="{ left: place(at) }">{{
      clock(new Date(at).toISOString())
    }}</span>
  </div>
</template>

<style scoped>
.ribbon {
  position: relative;
  height: 48px;
  border-bottom: 1px solid var(--rule);
}
.part {
  position: absolute;
  top: 0;
  height: 26px;
  overflow: hidden;
  border: 1px solid var(--petrol);
  background: var(--sheet);
}
.part.cut {
  border-right-style: dashed;
}
.label {
  display: block;
  padding: 3px 6px;
  overflow: hidden;
  font-size: 12px;
  line-height: 18px;
  text-overflow: clip;
  white-space: nowrap;
}
.hour {
  position: absolute;
  bottom: 0;
  padding-left: 4px;
  border-left: 1px solid var(--rule);
  color: var(--quiet);
  font-size: 12px;
}
</style>
