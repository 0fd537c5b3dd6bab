<!-- All runs of all campaigns: looked for, filtered, sorted, with the columns one wants. -->
<script setup lang="ts">
import { outcomeFacts, outcomes, registry } from '../api/registry'
import { Button as AButton, Input as AInput, Pagination as APagination, Select as ASelect } from 'ant-design-vue'
import { useDebounceFn, useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { useCampaignNames } from '../api/campaigns'
import { archiveAddress } from '../api/archive'
import DownloadButton from '../parts/DownloadButton.vue'
import { csvAddress, type LoggedRun, useLogbook } from '../api/logbook'
import { useRigs, useWorkloads } from '../api/rigs'
import LoadState from '../parts/LoadState.vue'
import OutcomeMark from '../parts/OutcomeMark.vue'
import { counted, moment, number, plain, span } from '../words/format'
import { PAGE, questionOf, wordOf } from './question'

const route = useRoute()
const router = useRouter()

const question = computed(() => questionOf(route.query))
const text = (name: string): string | undefined => wordOf(route.query, name)
const page = computed(() => question.value.start! / PAGE + 1)
const { data, isPending, error, refetch } = useLogbook(question)
// the runs are on the screen before what chooses among them is put together, which takes longer
const drawn = ref(false)
const drawTheRest = () => requestAnimationFrame(() => setTimeout(() => (drawn.value = true)))
watch(isPending, (pending) => void (pending || drawTheRest()), { immediate: true, flush: 'post' })
// asked after the runs themselves: they are for choosing among them
const { data: rigs } = useRigs()
const { data: campaigns } = useCampaignNames()
const { data: workloads } = useWorkloads()

function set(changes: Record<string, string | number | undefined>): void {
  void router.replace({ query: { ...route.query, page: undefined, ...changes } })
}
const look = useDebounceFn((typed: string) => set({ text: typed || undefined }), 250)
function sortBy(column: string): void {
  const again = question.value.sort === column
  set({ sort: column, order: again && question.value.falling ? 'rising' : undefined })
}
const arrow = (column: string): string => (question.value.sort !== column ? '' : question.value.falling ? ' ↓' : ' ↑')
const ordered = (column: string): 'ascending' | 'descending' | 'none' =>
  question.value.sort !== column ? 'none' : question.value.falling ? 'descending' : 'ascending'

const columns = useLocalStorage<string[]>('logbook-columns', ['power_w', 'temp_max_c', 'core_mhz'])
const figures = computed(() => registry.value.figures ?? [])
const shownFigures = computed(() => figures.value.filter((one) => columns.value.includes(one.word)))
const withDuration = computed(() => columns.value.includes('duration_s'))
const columnChoices = computed(() => [
  { value: 'duration_s', label: 'Lasted' },
  ...figures.value.map((one) => ({ value: one.word, label: `${one.name}, ${one.unit}` })),
])

const any = (label: string) => ({ value: '', label })
const filters = computed(() => [
  {
    name: 'rig',
    label: 'Rig',
    options: [any('any rig'), ...(rigs.value ?? []).map((one) => ({ value: String(one.id), label: one.name }))],
  },
  {
    name: 'campaign',
    label: 'Campaign',
    options: [any('any campaign'), ...(campaigns.value ?? []).map((one) => ({ value: String(one.id), label: one.name }))],
  },
  {
    name: 'workload',
    label: 'Workload',
    options: [any('any workload'), ...(workloads.value ?? []).map((one) => ({ value: String(one.id), label: one.title }))],
  },
  {
    name: 'outcome',
    label: 'Ended',
    options: [any('however it ended'), ...outcomes.value.map((one) => ({ value: one.outcome as string, label: one.short }))],
  },
  {
    name: 'aside',
    label: 'Set aside',
    options: [any('set aside or not'), { value: 'no', label: 'counting only' }, { value: 'yes', label: 'set aside only' }],
  },
  {
    name: 'log',
    label: 'Log',
    options: [any('with or without log'), { value: 'yes', label: 'with a log' }, { value: 'no', label: 'without a log' }],
  },
])
const filtered = computed(() => Object.keys(route.query).some((name) => !['page', 'sort', 'order'].includes(name)))
const reading = (run: LoggedRun, word: string, decimals: number): string => number(run.figures[word], decimals)
</script>

<template>
  <div class="page-head title">
    <h1>Logbook</h1>
    <span class="quiet" data-test="total">{{ data ? `${counted(data.total, 'run')}${filtered ? ' found' : ''}` : '' }}</span>
    <a :href="csvAddress(question, columns)" download>CSV of what is shown</a>
    <DownloadButton :address="archiveAddress()" small data-test="archive">The whole logbook as an archive (zip)</DownloadButton>
  </div>
  <div class="filters">
    <AInput
      :value="text('text')"
      class="search"
      allow-clear
      placeholder="Words in names and notes"
      aria-label="Look for words"
      @update:value="(typed: string) => look(typed)"
    />
    <template v-for="filter in filters" :key="filter.name">
      <label class="visually-hidden" :for="`filter-${filter.name}`">{{ filter.label }}</label>
      <span v-if="!drawn" class="filter later"></span>
      <ASelect
        v-else
        :id="`filter-${filter.name}`"
        :value="text(filter.name) ?? ''"
        :options="filter.options"
        class="filter"
        show-search
        option-filter-prop="label"
        @change="(value) => set({ [filter.name]: String(value) || undefined })"
      />
    </template>
    <label class="day"
      >from
      <input
        type="date"
        :value="text('since') ?? ''"
        aria-label="From"
        @change="set({ since: ($event.target as HTMLInputElement).value || undefined })"
    /></label>
    <label class="day"
      >to
      <input
        type="date"
        :value="text('until') ?? ''"
        aria-label="To"
        @change="set({ until: ($event.target as HTMLInputElement).value || undefined })"
    /></label>
    <AButton v-if="filtered" type="text" @click="router.replace({ query: {} })">Clear the filters</AButton>
  </div>
  <div class="columns">
    <label class="field-name" for="logbook-columns">Columns</label>
    <span v-if="!drawn" class="which later"></span>
    <ASelect
      v-else
      id="logbook-columns"
      v-model:value="columns"
      mode="multiple"
      :options="columnChoices"
      option-filter-prop="label"
      class="which"
      :max-tag-count="5"
    />
  </div>
  <LoadState :pending="isPending" :error="error" what="The logbook" @again="refetch">
    <p v-if="data?.total === 0" class="sheet none">
      {{ filtered ? 'No run fits these filters. Clear one of them.' : 'No run has been logged yet. Begin with a campaign.' }}
    </p>
    <div v-else-if="data" class="scroll-x">
      <table class="ledger">
        <thead>
          <tr>
            <th :aria-sort="ordered('outcome')">
              <button type="button" @click="sortBy('outcome')">Ended{{ arrow('outcome') }}</button>
            </th>
            <th :aria-sort="ordered('started_at')">
              <button type="button" @click="sortBy('started_at')">When{{ arrow('started_at') }}</button>
            </th>
            <th :aria-sort="ordered('campaign')">
              <button type="button" @click="sortBy('campaign')">Rig and campaign{{ arrow('campaign') }}</button>
            </th>
            <th :aria-sort="ordered('workload')">
              <button type="button" @click="sortBy('workload')">Workload{{ arrow('workload') }}</button>
            </th>
            <th>Setting</th>
            <th class="number" :aria-sort="ordered('value')">
              <button type="button" @click="sortBy('value')">Result{{ arrow('value') }}</button>
            </th>
            <th v-if="withDuration" class="number" :aria-sort="ordered('duration_s')">
              <button type="button" @click="sortBy('duration_s')">Lasted{{ arrow('duration_s') }}</button>
            </th>
            <th v-for="one in shownFigures" :key="one.word" class="number" :aria-sort="ordered(one.word)">
              <button type="button" @click="sortBy(one.word)">{{ one.name }}, {{ one.unit }}{{ arrow(one.word) }}</button>
            </th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="run in data.runs" :key="run.id" :class="{ aside: run.aside }" data-test="logged">
            <td class="ended">
              <OutcomeMark :outcome="run.outcome as never" :set-aside="run.aside" />
              {{ outcomeFacts(run.outcome as never).short }}
            </td>
            <td class="quiet when">{{ moment(run.started_at) }}</td>
            <td>
              <RouterLink :to="{ name: 'campaign', params: { id: run.campaign_id } }">{{ run.campaign }}</RouterLink>
              <span class="quiet under">{{ run.rig }}, fitting {{ run.fitting }}</span>
            </td>
            <td>
              {{ run.workload }} <span class="quiet">{{ run.options }}</span>
            </td>
            <td>
              <button
                type="button"
                class="link"
                :title="`Only runs at ${run.setting}`"
                @click="set({ setting: run.setting_id, campaign: run.campaign_id })"
              >
                {{ run.setting }}
              </button>
              <span v-if="run.aside" class="note">Set aside: {{ run.aside_reason }}</span>
              <span v-if="run.note" class="note">{{ run.note }}</span>
            </td>
            <td class="number figure">
              {{ plain(run.value) }} <span class="quiet">{{ run.value != null ? run.unit : '' }}</span>
            </td>
            <td v-if="withDuration" class="number figure">{{ span(run.duration_s) }}</td>
            <td v-for="one in shownFigures" :key="one.word" class="number figure">{{ reading(run, one.word, one.decimals) }}</td>
            <td class="open">
              <RouterLink :to="{ name: 'run', params: { id: run.id } }">{{ run.has_log ? 'Open, with log' : 'Open' }}</RouterLink>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <APagination
      v-if="data && data.total > PAGE"
      :current="page"
      :total="data.total"
      :page-size="PAGE"
      :show-size-changer="false"
      class="pages"
      @change="(chosen: number) => router.replace({ query: { ...route.query, page: chosen === 1 ? undefined : chosen } })"
    />
  </LoadState>
</template>

<style scoped>
.title {
  margin: 16px 0 12px;
}
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.search {
  width: 260px;
}
.filter {
  width: 178px;
}
.later {
  height: 32px;
}
.day input {
  min-height: 32px;
  padding: 0 6px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
.columns {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 8px 0 12px;
}
.which {
  flex: 1;
}
th {
  overflow-wrap: normal;
}
.ledger td {
  vertical-align: top;
}
.ledger td:nth-child(n + 3):nth-child(-n + 5) {
  min-width: 128px;
  overflow-wrap: break-word;
}
th button {
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  font-weight: inherit;
  text-align: inherit;
  cursor: pointer;
}
.ended,
.when,
.open {
  white-space: nowrap;
}
.when {
  font-size: 13px;
}
.aside td {
  color: var(--quiet);
}
.link {
  vertical-align: top;
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  text-decoration: underline dotted;
  cursor: pointer;
}
.under,
.note {
  display: block;
  color: var(--quiet);
  font-size: 13px;
}
.none {
  max-width: 640px;
  padding: 16px;
}
.pages {
  margin: 16px 0;
}
</style>
