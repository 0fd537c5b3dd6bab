<!-- Power: the law of the part's watts, what a setting not yet tried would draw, and what a year costs. -->
<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { Button as AButton } from 'ant-design-vue'
import { computed, reactive, ref } from 'vue'

import { usePredicted, usePower } from '../../api/lab'
import { inOneText, problemsOf } from '../../api/client'
import { useStageCampaign } from '../../composables/useStageCampaign'
import ChoiceField from '../../ui/ChoiceField.vue'
import IntervalFigure from '../../ui/IntervalFigure.vue'
import LoadState from '../../ui/LoadState.vue'
import NumberField from '../../ui/NumberField.vue'
import type { Column } from '../../ui/columns'
import DataTable from '../../ui/DataTable.vue'
import { counted, exact, halfWords, number, signed } from '../../ui/words/format'
import { useTryIt } from './useTryIt'

const campaign = useStageCampaign()
const workload = ref<number>()
const setting = ref<number>()
const hours = ref<number | null>(null)
const price = ref<number | null>(null)
const asked = computed(() => ({
  workloadId: workload.value,
  settingId: setting.value,
  hoursADay: hours.value,
  price: price.value,
}))
const { data, isPending, error, refetch } = usePower(() => campaign.value.id, refDebounced(asked, 300))
const workloads = computed(() => data.value?.workloads.map((one) => ({ value: one.id, label: one.name })) ?? [])
const chosen = computed({
  get: () => workload.value ?? data.value?.workload_id ?? undefined,
  set: (value) => (workload.value = value),
})
const settings = computed(() => data.value?.settings.map((one) => ({ value: one.setting_id, label: one.title })) ?? [])
const costsAt = computed({
  get: () => setting.value ?? data.value?.settings[0]?.setting_id,
  set: (value) => (setting.value = value),
})
const bills = computed(() => new Map(data.value?.bills.map((one) => [one.setting_id, one]) ?? []))
const money = computed(() => campaign.value.currency || '')

/** What was typed for a setting not tried; knobs left empty are at stock. */
const typed = reactive<Record<string, number | null>>({})
const knobs = computed(() => campaign.value.knobs.filter((knob) => !knob.retired))
const wish = computed(() => {
  const values = Object.fromEntries(Object.entries(typed).filter((one): one is [string, number] => one[1] !== null))
  return chosen.value !== undefined && !data.value?.refused.length && Object.keys(values).length
    ? { values, workload_id: chosen.value }
    : undefined
})
const { data: predicted, error: trouble } = usePredicted(() => campaign.value.id, refDebounced(wish, 400))
const problems = computed(() => (trouble.value ? problemsOf(trouble.value) : []))
const { tryIt, trying, failed } = useTryIt(campaign)

type PowerSetting = NonNullable<typeof data.value>['settings'][number]
const billOf = (one: PowerSetting) => bills.value.get(one.setting_id)
const columns: Column<PowerSetting>[] = [
  { key: 'setting', title: 'Setting', value: (one) => one.title },
  {
    key: 'clock',
    title: 'Clock',
    unit: 'MHz',
    number: true,
    value: (one) => one.core_mhz,
    text: (one) => number(one.core_mhz, 0),
  },
  {
    key: 'voltage',
    title: 'Voltage',
    unit: 'V',
    number: true,
    value: (one) => one.voltage_v,
    text: (one) => number(one.voltage_v, 3),
  },
  { key: 'power', title: 'Power', unit: 'W', number: true, value: (one) => one.power_w, text: (one) => number(one.power_w, 0) },
  { key: 'law', title: 'By the law', unit: 'W', number: true, value: (one) => one.law_w?.value },
  { key: 'runs', title: 'Runs', number: true, value: (one) => one.runs, onlyCopied: true },
  { key: 'year', title: 'A year', unit: 'kWh', number: true, value: (one) => billOf(one)?.year.kwh },
  { key: 'saved', title: 'Against stock', unit: 'kWh', number: true, value: (one) => -(billOf(one)?.saved.kwh ?? 0) },
]
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The power" @again="refetch">
    <template v-if="data">
      <p v-if="data.settings.length === 0" class="sheet empty">
        {{ inOneText(data.refused) }} It takes runs at three settings or more with power, core clock reached and voltage reached:
        from a log, from a live run, or typed.
      </p>
      <template v-else>
        <div class="asks">
          <ChoiceField v-model="chosen" label="Workload" :options="workloads" class="wide" />
          <NumberField v-model="hours" label="Hours a day" unit="h" hint="3" width="120px" />
          <NumberField v-model="price" label="Price of a kWh" :unit="money" width="150px" />
        </div>
        <p v-if="data.refused.length" class="caution">{{ inOneText(data.refused) }}</p>
        <p v-else data-test="law">
          <strong>Watts = what does not follow the clock + a constant × clock × voltage².</strong>
          Here <IntervalFigure v-if="data.base_w" :of="data.base_w" unit="W" :decimals="0" /> do not follow clock and voltage.
          <span :class="data.fits ? 'quiet' : 'warning'"
            >The law lies {{ number(100 * data.misfit, 1) }} % from {{ counted(data.readings, 'reading') }} ({{
              data.read_by
            }})<template v-if="data.leaks">, leakage with heat counted</template
            ><template v-if="!data.fits">: it does not fit, so nothing is predicted from it</template>.</span
          >
          {{ ' ' }}<span v-if="data.limit_says" class="quiet">{{ data.limit_says.text }}</span>
        </p>
        <div class="two">
          <section>
            <h2>Settings</h2>
            <DataTable
              name="power"
              data-test="power-settings"
              :rows="data.settings"
              :columns="columns"
              :row-key="(one) => one.setting_id"
            >
              <template #setting="{ row: one }"
                >{{ one.title }} <span v-if="one.held" class="quiet small">held by the limit</span></template
              >
              <template #law="{ row: one }">
                <IntervalFigure v-if="one.law_w" :of="one.law_w" unit="" :decimals="0" />
              </template>
              <template #year="{ row: one }">
                <span v-if="billOf(one)" :class="{ estimate: halfWords(billOf(one)!.year.half_kwh) }"
                  >{{ number(billOf(one)!.year.kwh, 0) }}{{ halfWords(billOf(one)!.year.half_kwh)
                  }}<span v-if="billOf(one)!.year.cost != null" class="quiet"
                    >, {{ number(billOf(one)!.year.cost, 0) }} {{ money }}</span
                  ></span
                >
              </template>
              <template #saved="{ row: one }">
                <span :class="{ estimate: halfWords(billOf(one)?.saved.half_kwh) }"
                  >{{ signed(-(billOf(one)?.saved.kwh ?? 0), 0) }}{{ halfWords(billOf(one)?.saved.half_kwh) }}</span
                >
              </template>
            </DataTable>
          </section>
          <div>
            <section v-if="!data.refused.length && data.fits">
              <h2>A setting not yet tried</h2>
              <div class="asks">
                <NumberField
                  v-for="knob in knobs"
                  :key="knob.key"
                  :model-value="typed[knob.key] ?? null"
                  :label="knob.name"
                  :unit="knob.unit"
                  :hint="exact(knob.stock)"
                  width="130px"
                  @update:model-value="(value) => (typed[knob.key] = value)"
                />
              </div>
              <p v-for="one in problems" :key="one.where" class="warning">{{ one.what }} {{ one.todo }}</p>
              <div v-if="wish && predicted && !problems.length" data-test="predicted">
                <p v-if="predicted.why.length" class="caution">{{ inOneText(predicted.why) }}</p>
                <table v-else class="ledger">
                  <tbody>
                    <tr>
                      <td>Core clock reached</td>
                      <td class="number">
                        <IntervalFigure v-if="predicted.core_mhz" :of="predicted.core_mhz" unit="MHz" :decimals="0" />
                      </td>
                    </tr>
                    <tr>
                      <td>Voltage reached</td>
                      <td class="number">
                        <IntervalFigure v-if="predicted.voltage_v" :of="predicted.voltage_v" unit="V" :decimals="3" />
                      </td>
                    </tr>
                    <tr>
                      <td>Power<span v-if="predicted.held" class="quiet">, held by the limit</span></td>
                      <td class="number">
                        <IntervalFigure v-if="predicted.power_w" :of="predicted.power_w" unit="W" :decimals="0" />
                      </td>
                    </tr>
                    <tr v-if="predicted.temp_c">
                      <td>Settles at, room {{ number(predicted.room_c, 0) }} °C</td>
                      <td class="number"><IntervalFigure :of="predicted.temp_c" unit="°C" :decimals="0" /></td>
                    </tr>
                  </tbody>
                </table>
                <p v-for="one in predicted.safety_limits" :key="one.text" class="warning">{{ one.text }}</p>
                <p class="quiet small">Whether it holds, the climb tells; this does not.</p>
                <p>
                  <AButton type="primary" :loading="trying" @click="tryIt(wish.values)">Try this one</AButton>
                  <span v-if="failed" class="warning"> {{ failed }}</span>
                </p>
              </div>
              <p v-else-if="!problems.length" class="quiet">Type where the knobs would stand; an empty one stands at stock.</p>
            </section>
            <section v-if="data.costs.length" class="block">
              <h2>What a step costs</h2>
              <ChoiceField v-model="costsAt" label="From" :options="settings" />
              <table class="ledger" data-test="costs">
                <tbody>
                  <tr v-for="one in data.costs" :key="one.key">
                    <td>{{ one.name }} {{ signed(one.by, Number.isInteger(one.by) ? 0 : 1) }} {{ one.unit }}</td>
                    <td class="number figure estimate">{{ signed(one.watts, 1) }} W</td>
                    <td class="number figure estimate">{{ signed(one.core_mhz, 0) }} MHz</td>
                  </tr>
                </tbody>
              </table>
            </section>
          </div>
        </div>
      </template>
    </template>
  </LoadState>
</template>

<style scoped>
.wide {
  min-width: 220px;
}
.two {
  grid-template-columns: minmax(0, 7fr) minmax(0, 4fr);
  margin-top: 12px;
}
</style>
