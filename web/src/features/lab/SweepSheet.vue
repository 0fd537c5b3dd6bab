<!-- Sweep: a knob's values against the workloads as a grid; what is missing is run as a queue, or filled by hand. -->
<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { problemsOf } from '../../api/client'
import { useRunSweep, useSweep } from '../../api/lab'
import SweepChart from '../../charts/SweepChart.vue'
import { useProblems } from '../../composables/useProblems'
import { useOpenRunForm, useStageCampaign } from '../../composables/useStageCampaign'
import QueuePanel from '../live/QueuePanel.vue'
import { speed } from '../live/speed'
import ChoiceField from '../../ui/ChoiceField.vue'
import LoadState from '../../ui/LoadState.vue'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import TableTools from '../../ui/TableTools.vue'
import { counted, gain, knobValue, number } from '../../ui/words/format'

const campaign = useStageCampaign()
const openForm = useOpenRunForm()
const knob = ref<string>()
const first = ref<number | null>(null)
const last = ref<number | null>(null)
const every = ref<number | null>(null)
const wished = computed(() => first.value !== null && last.value !== null && every.value !== null)
const wish = computed(() => ({
  knob: knob.value,
  ...(wished.value ? { first: first.value!, last: last.value!, every: every.value! } : {}),
}))
const asked = refDebounced(wish, 400)
const { data, isPending, error, refetch } = useSweep(() => campaign.value.id, asked)
const refused = computed(() => (error.value && data.value ? problemsOf(error.value) : []))
const chosen = computed({ get: () => knob.value ?? data.value?.knob.key, set: (key) => (knob.value = key) })
const knobs = computed(() => data.value?.knobs.map((one) => ({ value: one.key, label: one.name })) ?? [])
const { mutateAsync, isPending: running } = useRunSweep()
const { problems, take, clear } = useProblems()

async function run(): Promise<void> {
  if (!data.value || !wished.value) return
  clear()
  try {
    await mutateAsync({
      campaignId: campaign.value.id,
      body: {
        knob: data.value.knob.key,
        first: first.value!,
        last: last.value!,
        every: every.value!,
        repeats: 1,
        speed: speed.value ?? 60,
      },
    })
  } catch (trouble) {
    take(trouble)
  }
}
const words = (value: number): string => `${knobValue(value, data.value?.knob.stock ?? 0)} ${data.value?.knob.unit ?? ''}`.trim()
const rows = computed(
  () =>
    data.value?.rows.flatMap((row) =>
      row.cells.map((cell) => [
        row.value,
        data.value?.workloads.find((one) => one.id === cell.workload_id)?.name ?? '',
        cell.runs,
        cell.failed,
        cell.ratio,
        cell.low,
        cell.high,
        cell.power_w,
        cell.temp_max_c,
      ]),
    ) ?? [],
)
</script>

<template>
  <LoadState :pending="isPending" :error="data ? null : error" what="The sweep" @again="refetch">
    <template v-if="data">
      <div class="asks">
        <ChoiceField v-model="chosen" label="Knob" :options="knobs" class="choice" />
        <NumberField v-model="first" label="From" :unit="data.knob.unit" width="120px" />
        <NumberField v-model="last" label="To" :unit="data.knob.unit" width="120px" />
        <NumberField v-model="every" label="Every" :unit="data.knob.unit" width="120px" />
        <AButton v-if="campaign.simulator && wished" type="primary" :loading="running" :disabled="data.missing === 0" @click="run"
          >Run what is missing ({{ counted(data.missing, 'run') }})</AButton
        >
      </div>
      <p v-for="one in refused" :key="one.where" class="warning">{{ one.what }} {{ one.todo }}</p>
      <ProblemList :problems="problems" title="Not lined up:" />
      <p v-if="!wished" class="quiet">
        What was run along this knob, all others at stock. Type from, to and every to lay out a sweep<template
          v-if="!campaign.simulator"
          >; fill its cells by hand</template
        >.
      </p>
      <QueuePanel :campaign-id="campaign.id" />
      <div class="line">
        <h2>{{ data.knob.name }} against workloads</h2>
        <TableTools
          name="sweep"
          :headers="['value', 'workload', 'runs', 'failed', 'ratio', 'low', 'high', 'W', '°C']"
          :rows="rows"
        />
      </div>
      <div class="scroll-x">
        <table class="ledger" data-test="sweep">
          <thead>
            <tr>
              <th>{{ data.knob.name }}</th>
              <th v-for="one in data.workloads" :key="one.id">{{ one.name }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in data.rows" :key="row.value">
              <td class="figure">{{ words(row.value) }}<span v-if="row.value === data.knob.stock" class="quiet"> stock</span></td>
              <td v-for="cell in row.cells" :key="cell.workload_id">
                <template v-if="cell.runs">
                  <span class="figure">{{ cell.ratio == null ? 'run' : gain(cell.ratio) }}</span>
                  <span class="quiet figure small">
                    {{ number(cell.power_w, 0) }} W<template v-if="cell.temp_max_c != null"
                      >, {{ number(cell.temp_max_c, 0) }} °C</template
                    >
                  </span>
                </template>
                <span v-if="cell.failed" class="warning">{{ counted(cell.failed, 'failure') }}</span>
                <template v-else-if="!cell.runs">
                  <AButton
                    v-if="row.setting_id"
                    size="small"
                    type="text"
                    @click="openForm({ settingId: row.setting_id, workloadId: cell.workload_id })"
                    >Log it</AButton
                  >
                  <span v-else class="quiet">not run</span>
                </template>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <SweepChart :view="data" />
      <ul v-if="data.workloads.some((one) => one.response?.knee_x != null)" class="quiet">
        <template v-for="one in data.workloads" :key="one.id">
          <li v-if="one.response?.knee_x != null">
            {{ one.name }}: above {{ words(Math.round(one.response.knee_x)) }} a percent more brings less than half a percent of
            speed.
          </li>
        </template>
      </ul>
    </template>
  </LoadState>
</template>

<style scoped>
.choice {
  min-width: 180px;
}
.small {
  margin-left: 8px;
  font-size: 13px;
}
</style>
