<!-- A failure in use: who may be to blame, how likely each is, and the test that tells most. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { type KeptSetting, useKeptSettingActs } from '../../api/keep'
import { useProblems } from '../../composables/useProblems'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { day, number } from '../../ui/words/format'

type Failure = NonNullable<KeptSetting['open_failure']>
const props = defineProps<{ keptSetting: KeptSetting; failure: Failure }>()
const { probe, simulatorProbe, verdict } = useKeptSettingActs()
const { problems, take, clear } = useProblems()
const minutes = ref<number | null>(null)
const test = computed(() => props.failure.triaged.test)
const known = computed(() => props.failure.triaged.chances.filter((one) => one.chance >= 0.005))
const busy = computed(() => probe.isPending.value || simulatorProbe.isPending.value || verdict.isPending.value)

async function told(failed: boolean): Promise<void> {
  if (!test.value) return
  clear()
  try {
    await probe.mutateAsync({
      entryId: props.failure.entry_id,
      body: { key: test.value.key, failed, minutes: minutes.value ?? test.value.minutes },
    })
    minutes.value = null
  } catch (trouble) {
    take(trouble)
  }
}
async function onSimulator(): Promise<void> {
  if (!test.value) return
  clear()
  try {
    await simulatorProbe.mutateAsync({
      entryId: props.failure.entry_id,
      body: { key: test.value.key, minutes: test.value.minutes },
    })
  } catch (trouble) {
    take(trouble)
  }
}
async function settle(suspect: Failure['triaged']['chances'][number]['suspect']): Promise<void> {
  clear()
  try {
    await verdict.mutateAsync({ entryId: props.failure.entry_id, verdict: suspect })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <section id="failure-in-use" class="search" aria-label="Finding the cause" data-test="search">
    <h3>
      {{ day(failure.at) }}: {{ failure.outcome }} in {{ failure.workload }}, after {{ number(failure.after_minutes, 0) }} min.
      What was it?
    </h3>
    <div class="two">
      <table class="chances">
        <tbody>
          <tr v-for="{ suspect, chance } in known" :key="suspect">
            <td>{{ suspect }}</td>
            <td class="figure estimate">{{ number(100 * chance, 0) }} %</td>
            <td class="bar"><span :style="{ width: `${100 * chance}%` }"></span></td>
            <td>
              <AButton v-if="!test" size="small" :disabled="busy" :aria-label="`It was ${suspect}`" @click="settle(suspect)"
                >It was this</AButton
              >
            </td>
          </tr>
        </tbody>
      </table>
      <div>
        <template v-if="test">
          <p>
            <strong data-test="probe">{{ test.title.text }}</strong>
          </p>
          <p class="quiet">{{ test.why.text }}</p>
          <div class="acts">
            <AButton v-if="keptSetting.simulator" type="primary" :loading="busy" @click="onSimulator"
              >Try it on the simulator</AButton
            >
            <template v-else>
              <NumberField v-model="minutes" label="It ran for" unit="min" :hint="number(test.minutes, 0)" width="120px" />
              <AButton :disabled="busy" @click="told(true)">It failed</AButton>
              <AButton :disabled="busy" @click="told(false)">It held</AButton>
            </template>
          </div>
        </template>
        <p v-else data-test="culprit">
          <strong>{{ failure.triaged.says.text }}</strong>
        </p>
        <p v-for="said in failure.probes" :key="said.text" class="quiet small">{{ said.text }}.</p>
      </div>
    </div>
    <ProblemList :problems="problems" title="Not done:" />
  </section>
</template>

<style scoped>
.search {
  padding: 8px 0;
  border-top: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 6fr) minmax(0, 6fr);
  gap: 24px;
  margin-top: 8px;
}
.chances {
  border-collapse: collapse;
}
.chances td {
  padding: 2px 12px 2px 0;
}
.bar {
  width: 40%;
}
.bar span {
  display: block;
  height: 8px;
  background: var(--ochre);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: end;
  margin: 8px 0;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
