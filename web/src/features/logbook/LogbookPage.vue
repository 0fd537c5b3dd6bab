<!-- All runs of all campaigns: looked for, filtered, sorted, with the columns one wants. -->
<script setup lang="ts">
import { outcomeFacts, outcomes, registry } from '../../api/registry'
import { Button as AButton, Input as AInput, Pagination as APagination, Select as ASelect } from 'ant-design-vue'
import { useDebounceFn, useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { useCampaignNames } from '../../api/campaigns'
import { archiveAddress } from '../../api/archive'
import DownloadButton from '../../ui/DownloadButton.vue'
import { csvAddress, type LoggedRun, useLogbook } from '../../api/logbook'
import { useRigs, useWorkloads } from '../../api/rigs'
import LoadState from '../../ui/LoadState.vue'
import OutcomeMark from '../../ui/OutcomeMark.vue'
import type { Column } from '../../ui/columns'
import DataTable from '../../ui/DataTable.vue'
import { counted, moment, number, plain, span } from '../../ui/words/format'
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
const order = computed(() => ({ key: question.value.sort!, falling: question.value.falling! }))

const shown = useLocalStorage<string[]>('logbook-columns', ['power_w', 'temp_max_c', 'core_mhz'])
const figureColumn = (figure: (typeof registry.value.figures)[number]): Column<LoggedRun> => ({
  key: figure.word,
  title: figure.name,
  unit: figure.unit,
  number: true,
  value: (run) => run.figures[figure.word],
  text: (run) => number(run.figures[figure.word], figure.decimals),
})
const columns = computed<Column<LoggedRun>[]>(() => [
  { key: 'outcome', title: 'Ended', choosable: false, value: (run) => run.outcome },
  { key: 'started_at', title: 'When', choosable: false, value: (run) => run.started_at, text: (run) => moment(run.started_at) },
  { key: 'campaign', title: 'Rig and campaign', choosable: false, value: (run) => run.campaign },
  { key: 'workload', title: 'Workload', choosable: false, value: (run) => run.workload },
  { key: 'setting', title: 'Setting', choosable: false, sortable: false, value: (run) => run.setting },
  { key: 'value', title: 'Result', choosable: false, number: true, value: (run) => run.value },
  { key: 'duration_s', title: 'Duration', number: true, value: (run) => run.duration_s, text: (run) => span(run.duration_s) },
  ...(registry.value.figures ?? []).map(figureColumn),
  { key: 'open', title: '', choosable: false, value: () => '' },
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
</script>

<template>
  <div class="page-head title">
    <h1>Logbook</h1>
    <span class="quiet" data-test="total">{{ data ? `${counted(data.total, 'run')}${filtered ? ' found' : ''}` : '' }}</span>
    <a :href="csvAddress(question, shown)" download>CSV of what is shown</a>
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
  <LoadState :pending="isPending" :error="error" what="The logbook" @again="refetch">
    <p v-if="data?.total === 0" class="sheet none">
      {{ filtered ? 'No run fits these filters. Clear one of them.' : 'No run has been logged yet. Begin with a campaign.' }}
    </p>
    <DataTable
      v-else-if="data"
      v-model:shown="shown"
      name="logbook"
      paged
      :rows="data.runs"
      :columns="columns"
      :row-key="(run) => run.id"
      :row-class="(run) => ({ aside: run.aside })"
      :row-attrs="{ 'data-test': 'logged' }"
      :order="order"
      @order="sortBy"
    >
      <template #outcome="{ row: run }">
        <span class="one-line"
          ><OutcomeMark :outcome="run.outcome as never" :set-aside="run.aside" />
          {{ outcomeFacts(run.outcome as never).short }}</span
        >
      </template>
      <template #started_at="{ row: run }"
        ><span class="quiet one-line small">{{ moment(run.started_at) }}</span></template
      >
      <template #campaign="{ row: run }">
        <RouterLink :to="{ name: 'campaign', params: { id: run.campaign_id } }">{{ run.campaign }}</RouterLink>
        <span class="quiet note">{{ run.rig }}, build {{ run.build }}</span>
      </template>
      <template #workload="{ row: run }"
        >{{ run.workload }} <span class="quiet">{{ run.options }}</span></template
      >
      <template #setting="{ row: run }">
        <button
          type="button"
          class="plain link"
          :title="`Only runs at ${run.setting}`"
          @click="set({ setting: run.setting_id, campaign: run.campaign_id })"
        >
          {{ run.setting }}
        </button>
        <span v-if="run.aside" class="note">Set aside: {{ run.aside_reason }}</span>
        <span v-if="run.note" class="note">{{ run.note }}</span>
      </template>
      <template #value="{ row: run }"
        >{{ plain(run.value) }} <span class="quiet">{{ run.value != null ? run.unit : '' }}</span></template
      >
      <template #open="{ row: run }">
        <RouterLink class="one-line" :to="{ name: 'run', params: { id: run.id } }">{{
          run.has_log ? 'Open, with log' : 'Open'
        }}</RouterLink>
      </template>
    </DataTable>
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
:deep(td) {
  vertical-align: top;
}
.link {
  vertical-align: top;
  text-decoration: underline dotted;
}
@media (max-width: 620px) {
  .filters {
    display: grid;
    grid-template-columns: 1fr 1fr;
  }
  .filters > :not(.visually-hidden) {
    width: 100%;
    min-width: 0;
  }
}
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
