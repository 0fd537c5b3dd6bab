<!-- Supply and sound: what a reading at one measuring point means at another. -->
<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'

import { problemsOf } from '../../api/client'
import { useDroop, useSound, useSupply } from '../../api/lab'
import ChoiceField from '../../ui/ChoiceField.vue'
import IntervalFigure from '../../ui/IntervalFigure.vue'
import NumberField from '../../ui/NumberField.vue'
import { number, share } from '../../ui/words/format'
import LearntDroop from './LearntDroop.vue'

const ratings = (['Bronze', 'Gold', 'Platinum', 'Titanium'] as const).map((one) => ({ value: one, label: one }))
const wall = ref<number | null>(null)
const rated = ref<number | null>(null)
const rating = ref<(typeof ratings)[number]['value'] | undefined>('Gold')
const rest = ref<number | null>(null)
const restOff = ref<number | null>(null)
const supplyWish = computed(() =>
  wall.value !== null && rated.value !== null
    ? {
        wall_w: wall.value,
        rated_w: rated.value,
        rating: rating.value ?? 'Gold',
        ...(rest.value === null ? {} : { rest_w: rest.value, rest_give_or_take_w: restOff.value ?? 0 }),
      }
    : undefined,
)
const { data: supply, error: noSupply } = useSupply(refDebounced(supplyWish, 300))

const idle = ref<number | null>(null)
const load = ref<number | null>(null)
const amperes = ref<number | null>(null)
const droopWish = computed(() =>
  idle.value !== null && load.value !== null && amperes.value !== null
    ? { idle_v: idle.value, load_v: load.value, amperes: amperes.value }
    : undefined,
)
const { data: droop, error: noDroop } = useDroop(refDebounced(droopWish, 300))

const dba = ref<number | null>(null)
const fan = ref<number | null>(null)
const otherFan = ref<number | null>(null)
const otherDba = ref<number | null>(null)
const soundWish = computed(() =>
  dba.value !== null
    ? {
        dba: dba.value,
        ...(fan.value === null ? {} : { fan: fan.value }),
        ...(otherFan.value === null ? {} : { other_fan: otherFan.value }),
        ...(otherDba.value === null ? {} : { other_dba: otherDba.value }),
      }
    : undefined,
)
const { data: sound, error: noSound } = useSound(refDebounced(soundWish, 300))
const said = (error: unknown): string =>
  problemsOf(error)
    .map((one) => `${one.what} ${one.todo}`)
    .join(' ')
</script>

<template>
  <div class="three">
    <section>
      <h2>From the wall to the part</h2>
      <div class="asks">
        <NumberField v-model="wall" label="At the wall" unit="W" width="120px" />
        <NumberField v-model="rated" label="Supply, rated" unit="W" width="120px" />
        <ChoiceField v-model="rating" label="Rating" :options="ratings" class="choice" />
        <NumberField v-model="rest" label="All but the part" unit="W" width="130px" />
        <NumberField v-model="restOff" label="give or take" unit="W" width="110px" />
      </div>
      <p v-if="supplyWish && noSupply" class="warning">{{ said(noSupply) }}</p>
      <p v-else-if="supplyWish && supply" data-test="supply">
        <IntervalFigure :of="supply.delivered.dc_w" unit="W" :decimals="0" /> leave the supply, at
        {{ share(supply.delivered.efficiency, 0) }}; {{ number(supply.delivered.lost_w, 0) }} W warm it.
        <template v-if="supply.part_w">
          The part draws <strong><IntervalFigure :of="supply.part_w" unit="W" :decimals="0" /></strong>.</template
        >
      </p>
      <p class="quiet small">
        By the rating’s own points at 115 V. A part’s own report, a clamp and the wall are three different things: a clamp on the
        cables misses what the slot delivers, about 29 W on a large card; the wall has everything else and the losses in it.
      </p>
    </section>
    <section>
      <h2>Droop</h2>
      <div class="asks">
        <NumberField v-model="idle" label="Idle" unit="V" width="110px" />
        <NumberField v-model="load" label="Under load" unit="V" width="110px" />
        <NumberField v-model="amperes" label="Current" unit="A" width="110px" />
      </div>
      <p v-if="droopWish && noDroop" class="warning">{{ said(noDroop) }}</p>
      <p v-else-if="droopWish && droop" data-test="droop">
        The load line is <strong class="estimate">{{ number(droop.load_line_mohm, 2) }} mΩ</strong>;
        {{ number(droop.load_w, 0) }} W flow at that voltage.
      </p>
      <p class="quiet small">
        What the load line setting leaves of the voltage. Less droop needs less voltage set, and overshoots more.
      </p>
    </section>
    <section>
      <h2>Sound</h2>
      <div class="asks">
        <NumberField v-model="dba" label="Measured" unit="dB(A)" width="130px" />
        <NumberField v-model="fan" label="at a fan of" unit="%" width="110px" />
        <NumberField v-model="otherFan" label="then at" unit="%" width="110px" />
        <NumberField v-model="otherDba" label="beside another of" unit="dB(A)" width="140px" />
      </div>
      <p v-if="soundWish && noSound" class="warning">{{ said(noSound) }}</p>
      <p v-else-if="soundWish && sound" data-test="sound">
        <template v-if="sound.at_fan_dba">
          At {{ number(otherFan, 0) }} % of its speed: <IntervalFigure :of="sound.at_fan_dba" unit="dB(A)" />.
        </template>
        <template v-if="sound.both_dba != null"> Both together: {{ number(sound.both_dba, 1) }} dB(A).</template>
      </p>
      <p class="quiet small">Level rises by 50 times the logarithm of the speed; powers of two sources add, levels do not.</p>
    </section>
  </div>
  <LearntDroop />
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 32px;
}
.choice {
  width: 120px;
}
@media (max-width: 1000px) {
  .three {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
