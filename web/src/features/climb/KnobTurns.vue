<!-- The knobs in the order of turning: where each climb starts, how far it has come, where it holds to. -->
<script setup lang="ts">
import type { KnobTurn } from '../../api/climb'
import type { Knob } from '../../api/campaigns'
import { counted, knobValue } from '../../ui/words/format'
import StateMark from '../../ui/StateMark.vue'

const props = defineProps<{ turns: KnobTurn[]; knobs: Knob[]; chosen: string }>()
defineEmits<{ choose: [key: string] }>()
const knobOf = (key: string): Knob | undefined => props.knobs.find((knob) => knob.key === key)
const words = (turn: KnobTurn): string => {
  const knob = knobOf(turn.key)
  if (!knob || turn.hold === null) return ''
  if (turn.hold_state === 'nothing') return 'nothing holds yet'
  const value = turn.hold === knob.stock ? 'stock' : `${knobValue(turn.hold, knob.stock)} ${knob.unit}`.trim()
  return turn.hold_state === 'sure' ? value : `${value}, not sure yet`
}
</script>

<template>
  <ol class="turns" aria-label="Knobs in the order of turning" data-test="knob-turns">
    <li v-for="(turn, index) in turns" :key="turn.key">
      <button
        type="button"
        :aria-pressed="turn.key === chosen"
        :class="{ on: turn.key === chosen }"
        :title="`${turn.why.text}; ${turn.hold === null ? '' : `${words(turn)}, `}${counted(turn.trials, 'run')}, climbed from ${turn.base_title}`"
        @click="$emit('choose', turn.key)"
      >
        <span class="name"><StateMark :state="turn.state" /> {{ index + 1 }}. {{ knobOf(turn.key)?.name }}</span>
        <span class="quiet">
          <template v-if="turn.hold !== null"
            ><span class="figure estimate">{{ words(turn) }}</span></template
          >
          <template v-else>not tried</template>
        </span>
      </button>
    </li>
  </ol>
</template>

<style scoped>
.turns {
  display: flex;
  flex-wrap: wrap;
  gap: 0 24px;
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
}
button {
  display: flex;
  gap: 8px;
  align-items: baseline;
  min-height: 32px;
  padding: 4px 0;
  border: 0;
  border-bottom: 2px solid transparent;
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
</style>
