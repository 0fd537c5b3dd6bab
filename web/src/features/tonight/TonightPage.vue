<!-- The time there is, and what fits into it: in order, with clock times; rebuilt as runs come in. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { useNow, useStorage } from '@vueuse/core'
import { computed, ref } from 'vue'

import { type Evening, leftOf, useTonight } from '../../api/tonight'
import { useStageCampaign } from '../../composables/useStageCampaign'
import LoadState from '../../ui/LoadState.vue'
import NumberField from '../../ui/NumberField.vue'
import TableTools from '../../ui/TableTools.vue'
import TimeField from '../../ui/TimeField.vue'
import { clock, minutesWords } from '../../ui/words/format'
import EveningRibbon from './EveningRibbon.vue'

const campaign = useStageCampaign()
const LEAST_MINUTES = 5
/** One evening a campaign, kept by this browser until it is over. */
const kept = useStorage<Record<number, Evening>>('trelvo-evenings', {})
const now = useNow({ interval: 30_000 })
const evening = computed<Evening | null>(() => {
  const one = kept.value[campaign.value.id]
  return one && leftOf(one, now.value.getTime()).minutes >= LEAST_MINUTES ? one : null
})
const over = computed(() => !!kept.value[campaign.value.id] && !evening.value)
const { data, isPending, isFetching, error, refetch } = useTonight(() => campaign.value.id, evening)
const plan = computed(() => (evening.value ? data.value : undefined))

const minutes = ref<number | null>(240)
const begin = ref('')
const trouble = ref('')

/** The clock time typed, today or, where it has passed, tomorrow; now where none is. */
function beginning(): Date {
  const found = /^(\d{1,2})[:.](\d{2})$/.exec(begin.value.trim())
  const at = new Date()
  if (!found) return at
  at.setHours(Number(found[1]), Number(found[2]), 0, 0)
  if (at.getTime() < Date.now()) at.setDate(at.getDate() + 1)
  return at
}
function make(): void {
  trouble.value = ''
  if (minutes.value === null || minutes.value < LEAST_MINUTES || minutes.value > 1440) {
    trouble.value = `Type from ${LEAST_MINUTES} to 1440 minutes.`
    return
  }
  const from = beginning()
  kept.value = {
    ...kept.value,
    [campaign.value.id]: {
      begin: from.toISOString(),
      until: new Date(from.getTime() + minutes.value * 60_000).toISOString(),
    },
  }
}
function forget(): void {
  const others = { ...kept.value }
  delete others[campaign.value.id]
  kept.value = others
}
const calendar = computed(() => {
  if (!evening.value) return ''
  const left = leftOf(evening.value, now.value.getTime())
  return `/api/campaigns/${campaign.value.id}/tonight.ics?${new URLSearchParams({ minutes: String(left.minutes), begin: left.begin })}`
})
const rows = computed(() =>
  (plan.value?.stretches ?? []).map((one) => [
    one.begins_at,
    one.ends_at,
    one.ends_late,
    one.stage,
    one.title.text,
    one.counted.text,
    one.known?.text ?? '',
  ]),
)
</script>

<template>
  <section class="tonight" aria-label="Tonight">
    <form v-if="!evening" class="ask" @submit.prevent="make">
      <NumberField v-model="minutes" label="Time at the bench" unit="min" :trouble="trouble" width="160px" />
      <TimeField v-model="begin" label="Beginning at (blank = now)" />
      <AButton type="primary" html-type="submit">Plan it</AButton>
      <p class="quiet words">
        {{ over ? 'The time that was planned is over. ' : '' }}Lays the work that is open over the time you have: cooling down,
        setting up and the restarts to expect are counted, and it says what you will then know.
      </p>
    </form>
    <template v-else>
      <div class="ask">
        <h2>Until {{ clock(evening.until) }}</h2>
        <span v-if="plan" class="quiet">{{ plan.end.text }}</span>
        <span v-if="isFetching" class="quiet" role="status">Working it out …</span>
        <span class="acts">
          <a :href="calendar" download data-test="calendar">Calendar (ICS)</a>
          <TableTools
            v-if="plan"
            name="tonight"
            :headers="['begins', 'ends', 'ends at the latest', 'stage', 'what', 'counted', 'known then']"
            :rows="rows"
          />
          <AButton size="small" @click="forget">Change the time</AButton>
        </span>
      </div>
      <LoadState :pending="isPending" :error="error" what="The plan" @again="refetch">
        <template v-if="plan">
          <EveningRibbon :plan="plan" />
          <ol class="stretches" data-test="stretches">
            <li v-for="(one, index) in plan.stretches" :key="one.title.text">
              <span class="figure when">{{ clock(one.begins_at) }}–{{ clock(one.ends_at) }}</span>
              <span class="stage-name">{{ one.stage }}</span>
              <div>
                <p>
                  <strong>{{ one.title.text }}</strong> <span v-if="!one.whole" class="caution">only in part</span>
                </p>
                <p v-if="index === 0 && plan.first.text !== one.title.text" class="quiet">Begins with: {{ plan.first.text }}</p>
                <p class="quiet">
                  {{ minutesWords(one.minutes) }}: {{ one.counted.text
                  }}<template v-if="one.ends_late !== one.ends_at || one.ends_early !== one.ends_at"
                    >. Four in five evenings it ends between {{ clock(one.ends_early) }} and {{ clock(one.ends_late) }}</template
                  >.
                </p>
              </div>
              <p class="known"><span class="field-name">Known then</span>{{ one.known?.text }}</p>
            </li>
          </ol>
          <template v-if="plan.not_tonight.length">
            <h3>Not in this time</h3>
            <ul class="not">
              <li v-for="one in plan.not_tonight" :key="one.title.text">
                {{ one.title.text }}
                <span class="quiet">{{ one.minutes === null ? 'time not known yet' : minutesWords(one.minutes) }}</span>
              </li>
            </ul>
          </template>
          <p class="quiet">Time left over: {{ minutesWords(plan.free_minutes) }}. The plan changes as runs come in.</p>
        </template>
      </LoadState>
    </template>
  </section>
</template>

<style scoped>
.tonight {
  display: grid;
  gap: 12px;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: baseline;
}
form.ask {
  align-items: end;
}
.words {
  flex: 1 1 320px;
}
.acts {
  display: flex;
  gap: 12px;
  align-items: baseline;
  margin-left: auto;
}
.stretches {
  margin: 0;
  padding: 0;
  list-style: none;
}
.stretches li {
  display: grid;
  grid-template-columns: 104px 76px minmax(0, 3fr) minmax(0, 2fr);
  gap: 16px;
  padding: 10px 0;
  border-top: 1px solid var(--rule);
}
.not {
  margin: 0;
  padding-left: 20px;
}
@media (max-width: 1000px) {
  .stretches li {
    grid-template-columns: 104px 76px minmax(0, 1fr);
  }
  .known {
    grid-column: 3;
  }
}
</style>
