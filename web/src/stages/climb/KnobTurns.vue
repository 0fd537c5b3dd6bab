<!-- The knobs in the order of turning: where each climb starts, how far it has come, where it holds to. -->
<script setup lang="ts">
import type { KnobTurn } from '../../api/climb'
import type { Knob } from '../../api/campaigns'
import { knobValue } from '../../words/format'
import StateMark from '../../parts/StateMark.vue'

const props = defineProps<{ turns: KnobTurn[]; knobs: Knob[]; chosen: string }>()
defineEmits<{ choose: [key: string] }>()
const knobOf = (key: string): Knob | undefined => props.knobs.find((knob) => knob.key === key)
const words = (turn: KnobTurn): string => {
  const knob = knobOf(turn.key)
  if (!knob || turn.hold === null) return ''
  return turn.hold === knob.stock ? 'stock, so far' : `${knobValue(turn.hold, knob.stock)} ${knob.unit}`.trim()
}
</script>

<template>
  <ol class="turns" aria-label="Knobs in the order of turning" data-test="knob-turns">
    <li v-for="(turn, index) in turns" :key="turn.key">
      <button
        type="button"
        :aria-pressed="turn.key === chosen"
        :class="{ on: turn.key === chosen }"
        @click="$emit('choose', turn.key)"
      >
        <span class="name"><StateMark :state="turn.state" /> {{ index + 1 }}. {{ knobOf(turn.key)?.name }}</span>
        <span class="quiet">
          <template v-if="turn.hold !== null"
            >holds to <span class="figure estimate">{{ words(turn) }}</span>, {{ turn.trials }}
            {{ turn.trials === 1 ? 'run' : 'runs' }}; from {{ turn.base_title }}</template
          >
          <template v-else>{{ turn.why }}</template>
        </span>
      </button>
    </li>
  </ol>
</template>

<style scoped>
.turns {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 0 16px;
  margin: 0 0 12px;
  padding: 0;
  list-style: none;
}
button {
  display: grid;
  gap: 2px;
  align-content: start;
  width: 100%;
  height: 100%;
  min-height: 44px;
  padding: 6px 0;
  border: 0;
  border-bottom: 2px solid var(--rule);
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: 13px;
  text-align: left;
  cursor: pointer;
}
button.on {
  border-bottom-color: var(--petrol);
}
.name {
  display: flex;
  gap: 6px;
  align-items: center;
  font-size: 14px;
}
button.on .name {
  font-weight: 700;
}
@media (max-width: 1000px) {
  .turns {
    grid-template-columns: 1fr 1fr;
    gap: 8px 16px;
  }
}
</style>
