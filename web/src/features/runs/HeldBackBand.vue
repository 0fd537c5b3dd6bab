<!-- What held the part back in each second of a log, as a band of time, with each limiter's share. -->
<script setup lang="ts">
import { computed } from 'vue'

import { useHeldBack } from '../../api/lab'
import TableTools from '../../ui/TableTools.vue'
import { number, share, span } from '../../ui/words/format'

const props = defineProps<{ seriesId: number; telemetry: boolean }>()
const { data } = useHeldBack(
  () => props.seriesId,
  () => props.telemetry,
)
const from = computed(() => data.value?.bands[0]?.from_s ?? 0)
const long = computed(() => (data.value?.bands.at(-1)?.to_s ?? 0) - from.value || 1)
/** Each limiter its own hatching, so that the band reads without colour. */
const kinds: Record<string, string> = {
  'power limit': 'power',
  heat: 'heat',
  'frame cap': 'cap',
  'one busy thread': 'thread',
  'something else in the rig': 'else',
  'the clock set': 'clock',
  'not known': 'unknown',
}
const rows = computed(() => (data.value?.bands ?? []).map((one) => [one.from_s, one.to_s, one.what]))
</script>

<template>
  <section v-if="data?.bands.length" class="held" aria-label="Held back by" data-test="held-back">
    <h3>Held back by</h3>
    <div class="band" aria-hidden="true">
      <span
        v-for="one in data.bands"
        :key="one.from_s"
        :class="['stretch', kinds[one.what]]"
        :style="{ left: `${(100 * (one.from_s - from)) / long}%`, width: `${(100 * (one.to_s - one.from_s)) / long}%` }"
        :title="`${one.what}, ${number(one.from_s, 0)} to ${number(one.to_s, 0)} s`"
      />
    </div>
    <p class="shares">
      <span v-for="one in data.shares" :key="one.what" class="of"
        ><span :class="['key', kinds[one.what]]" aria-hidden="true" />{{ one.what }} {{ share(one.share, 0) }}
        <span class="quiet">{{ one.limiter.why }}</span></span
      >
      <TableTools name="held back" :headers="['from s', 'to s', 'held back by']" :rows="rows" />
    </p>
    <p v-if="data.says">Clock: {{ data.says }}</p>
    <p v-else-if="data.levels.length" class="quiet">The clock kept one level over {{ span(long) }}.</p>
    <p v-if="data.flat_w.length" class="quiet">
      No power limit is known; the power ran flat at {{ data.flat_w.map((watts) => number(watts, 0)).join(' W, then ') }} W, which
      is taken for it.
    </p>
  </section>
</template>

<style scoped>
.held {
  margin: 8px 0 16px;
}
.band {
  position: relative;
  height: 18px;
  border: 1px solid var(--rule);
}
.stretch {
  position: absolute;
  top: 0;
  bottom: 0;
}
.key {
  display: inline-block;
  width: 16px;
  height: 10px;
  margin-right: 6px;
  border: 1px solid var(--rule);
}
.shares {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 24px;
  align-items: baseline;
  margin-top: 4px;
  font-size: 13px;
}
.power {
  background: var(--petrol);
}
.heat {
  background: repeating-linear-gradient(45deg, var(--orange) 0 4px, var(--sheet) 4px 7px);
}
.cap {
  background: repeating-linear-gradient(0deg, var(--ochre) 0 2px, var(--sheet) 2px 5px);
}
.thread {
  background: repeating-linear-gradient(90deg, var(--plum) 0 2px, var(--sheet) 2px 6px);
}
.else {
  background: repeating-linear-gradient(-45deg, var(--quiet) 0 1px, var(--sheet) 1px 5px);
}
.clock {
  background: var(--wash);
}
.unknown {
  background: var(--sheet);
}
</style>
