<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed } from 'vue'

import type { BaselineOfWorkload } from '../../api/baseline'
import type { Workload } from '../../api/campaigns'
import type { Run } from '../../api/runs'
import RepeatsChart from '../../charts/RepeatsChart.vue'
import { counted, number, plain, readByWords, share, wattsWords } from '../../ui/words/format'
import RunTable from '../runs/RunTable.vue'
import HeadroomCards from './HeadroomCards.vue'
import { useOpenLive, useOpenRunForm } from '../../composables/useStageCampaign'

const props = defineProps<{
  baseline: BaselineOfWorkload
  workload: Workload
  runs: Run[]
  stockId: number
  simulator: boolean
}>()
const openForm = useOpenRunForm()
const openLive = useOpenLive()
// of all stock runs, where the table has the last ones only
const suspect = computed(() => props.baseline.runs.find((run) => run.id === props.baseline.suspect_id))
</script>

<template>
  <section class="workload" :aria-label="workload.name">
    <div class="head">
      <h2>{{ workload.name }}</h2>
      <span class="quiet options">{{ workload.options_in_words }}</span>
      <span v-if="baseline.missing_runs" class="caution">
        {{ baseline.missing_runs }} more {{ baseline.missing_runs === 1 ? 'run' : 'runs' }} to go
      </span>
      <AButton v-if="simulator" size="small" @click="openLive({ settingId: stockId, workloadId: workload.id, repeats: 3 })"
        >Run it on the simulator</AButton
      >
      <AButton size="small" @click="openForm({ settingId: stockId, workloadId: workload.id })">Log a run at stock</AButton>
    </div>
    <p v-if="baseline.runs.length === 0" class="quiet none">
      No run yet. Run it at stock ({{ workload.minutes }} minutes), then log what it showed.
    </p>
    <template v-else>
      <div class="facts">
        <dl v-if="baseline.summary">
          <div>
            <dt>Mean</dt>
            <dd class="figure big" data-test="mean">
              {{ plain(baseline.summary.mean) }} <span class="quiet">{{ workload.unit }}</span>
            </dd>
          </div>
          <div v-if="baseline.summary.low != null">
            <dt>95 % interval of the mean</dt>
            <dd class="figure estimate" data-test="interval">
              {{ plain(baseline.summary.low) }} to {{ plain(baseline.summary.high) }}
              <span class="quiet">{{ workload.unit }}</span>
            </dd>
          </div>
          <div>
            <dt>Deviation of single runs</dt>
            <dd class="figure estimate">
              <template v-if="baseline.summary.sd != null"
                >{{ plain(baseline.summary.sd) }} <span class="quiet">{{ workload.unit }}</span> ·
                {{ share(baseline.summary.cv) }}</template
              >
              <span v-else class="quiet">needs two runs</span>
            </dd>
          </div>
          <div v-if="baseline.low_1_fps != null">
            <dt>1 % low, mean</dt>
            <dd class="figure">{{ plain(baseline.low_1_fps) }} <span class="quiet">fps</span></dd>
          </div>
          <div v-if="baseline.power.mean_w != null">
            <dt>
              Power <span class="by">({{ readByWords(baseline.power) }})</span>
            </dt>
            <dd :class="['figure', { estimate: baseline.power.half_w }]">{{ wattsWords(baseline.power) }}</dd>
          </div>
          <div v-else-if="baseline.power.mixed">
            <dt>Power</dt>
            <dd class="caution">read at different points: no mean</dd>
          </div>
          <div v-if="baseline.temp_max_c != null">
            <dt>Highest temperature</dt>
            <dd class="figure">
              {{ number(baseline.temp_max_c) }}
              <span class="quiet"
                >°C<template v-if="baseline.room_c != null"> in a room of {{ number(baseline.room_c) }} °C</template></span
              >
            </dd>
          </div>
        </dl>
        <RepeatsChart :baseline="baseline" :name="workload.name" :unit="workload.unit" class="chart" />
      </div>
      <p v-if="baseline.meter" :class="['meter', { caution: !baseline.reached }]" data-test="meter">
        {{ baseline.meter.says.text }}
        <span class="quiet"
          >Single runs scatter by {{ share(baseline.meter.sd) }} ({{ baseline.meter.df }} degrees of freedom).</span
        >
      </p>
      <p v-else class="quiet meter">One run says nothing about noise; a second shows how far runs scatter.</p>
      <p v-if="suspect" class="caution meter">
        The first run, {{ plain(suspect.value) }} {{ workload.unit }}, does not fit the others: probably a warm-up.
      </p>
      <HeadroomCards :cards="baseline.cards" />
      <details>
        <summary v-if="runs.length < baseline.runs.length">The last {{ runs.length }} of {{ baseline.runs.length }} runs</summary>
        <summary v-else>The {{ counted(runs.length, 'run') }}</summary>
        <RunTable :runs="runs" :name="`${workload.name} at stock`" />
      </details>
    </template>
  </section>
</template>

<style scoped>
.workload {
  padding: 16px 0;
  border-top: 1px solid var(--rule);
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 12px;
}
.options {
  flex: 1;
}
.none {
  margin-top: 8px;
}
.facts {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
  gap: 32px;
  margin: 8px 0;
}
dl {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 24px;
  align-content: start;
  margin: 0;
}
dt {
  color: var(--quiet);
  font-size: 13px;
}
dd {
  margin: 0;
}
.big {
  font-size: 20px;
  line-height: 28px;
}
.meter {
  margin: 4px 0;
}
summary {
  cursor: pointer;
  color: var(--petrol);
}
@media (max-width: 1000px) {
  .facts {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
