<!-- Copies of the whole database: what there is, one more, one restore. -->
<script setup lang="ts">
import { Button as AButton, message, Modal as AModal } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { type Contents, useCheckDatabase, useCopies, useCopyContents, useMakeCopy, useRestore } from '../../api/copies'
import { useProblems } from '../../composables/useProblems'
import LoadState from '../../ui/LoadState.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { counted, moment, number } from '../../ui/words/format'

const { mutateAsync: makeCopy, isPending: making } = useMakeCopy()
const { mutateAsync: contentsOf, isPending: looking } = useCopyContents()
const { mutateAsync: restore, isPending: restoring } = useRestore()
const { mutateAsync: checkAll, isPending: checking } = useCheckDatabase()
const { data, isPending, error, refetch } = useCopies(() => making.value || restoring.value)
const { problems, guarded } = useProblems()

const wanted = ref<string | File>()
const holds = ref<Contents>()
const checked = ref<Contents>()
const input = ref<HTMLInputElement>()
const asking = computed({ get: () => !!wanted.value, set: (open) => !open && (wanted.value = undefined) })
const share = computed(() => (data.value?.working == null ? '' : ` ${Math.round(data.value.working * 100)} %`))
const said = (contents: Contents): string =>
  `${counted(contents.campaigns, 'campaign')} and ${counted(contents.runs, 'run')}${contents.newest ? `, the newest of ${contents.newest} UTC` : ''}`
const nameOf = (which: string | File | undefined): string => (which instanceof File ? which.name : (which ?? ''))

const copyNow = (): Promise<void> =>
  guarded(async () => {
    const made = await makeCopy()
    void message.success(`Copied and checked: ${made.name}`)
  })
const check = (): Promise<void> => guarded(async () => (checked.value = await checkAll()))
const ask = (name: string): Promise<void> =>
  guarded(async () => {
    holds.value = await contentsOf(name)
    wanted.value = name
  })
function askFile(event: Event): void {
  const target = event.target as HTMLInputElement
  holds.value = undefined
  wanted.value = target.files?.[0]
  target.value = ''
}
const putBack = (): Promise<void> =>
  guarded(async () => {
    const which = wanted.value
    if (!which) return
    wanted.value = undefined
    const found = await restore(which)
    void message.success(`Put back: ${said(found)}. What was there is among the copies.`)
    await refetch()
  })
</script>

<template>
  <section>
    <h2>Copies</h2>
    <p class="quiet">
      A copy is one file with everything in it. Trelvo makes one a day by itself and keeps a week of them; it makes one more
      before a newer version changes the database, and before a copy is put back.
    </p>
    <LoadState :pending="isPending" :error="error" what="The list of copies" @again="refetch">
      <template v-if="data">
        <p class="quiet where">
          The database is {{ number(data.database_mb, 1) }} MB. Copies lie in <span class="figure">{{ data.folder }}</span>; keep
          one on another disk too. What goes wrong is written to <span class="figure">{{ data.log_file }}</span>.
        </p>
        <p class="acts">
          <AButton type="primary" :loading="making" data-test="copy-now" @click="copyNow"
            >Copy now{{ making ? share : '' }}</AButton
          >
          <AButton :loading="restoring" @click="input?.click()">Put back a file…</AButton>
          <AButton :loading="checking" @click="check">Check the database in full</AButton>
          <input
            ref="input"
            class="visually-hidden"
            type="file"
            accept=".sqlite3"
            tabindex="-1"
            aria-label="Copy to put back"
            @change="askFile"
          />
        </p>
        <p v-if="checked" role="status" data-test="checked">Every page and index is whole: {{ said(checked) }}.</p>
        <ProblemList :problems="problems" title="This could not be done:" />
        <table v-if="data.copies.length" class="ledger">
          <thead>
            <tr>
              <th>Made</th>
              <th>Why</th>
              <th class="number">Size (MB)</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="copy in data.copies" :key="copy.name">
              <td class="figure">{{ moment(copy.made_at) }}</td>
              <td>{{ copy.why }}</td>
              <td class="number figure">{{ number(copy.size_mb, 1) }}</td>
              <td class="do">
                <a :href="`/api/copies/${copy.name}/file`" download>Download</a>
                <AButton size="small" :loading="looking" @click="ask(copy.name)">Put back…</AButton>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-else>No copy has been made yet. The first one by itself comes a minute after a start.</p>
      </template>
    </LoadState>
    <AModal
      v-model:open="asking"
      title="Put this copy back?"
      ok-text="Replace the logbook"
      cancel-text="Cancel"
      :ok-button-props="{ danger: true }"
      @ok="putBack"
    >
      <p>
        <strong class="figure">{{ nameOf(wanted) }}</strong>
        <template v-if="holds"> holds {{ said(holds) }}.</template>
      </p>
      <p>It replaces all that is here now. What is here is copied first and stays in the list.</p>
    </AModal>
  </section>
</template>

<style scoped>
.where {
  overflow-wrap: anywhere;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 12px 0;
}
.do {
  text-align: right;
  white-space: nowrap;
}
.do a {
  margin-right: 12px;
}
/* a path has no spaces to break at */
.where .figure {
  overflow-wrap: anywhere;
  white-space: normal;
}
</style>
