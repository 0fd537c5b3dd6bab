<!-- Drops a log on a run: shows what was found, lets the user say what each column is, checks, then keeps it. -->
<script setup lang="ts">
import { useDropZone } from '@vueuse/core'
import { Button as AButton, Checkbox as ACheckbox, message, Select as ASelect } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { type LogCheck, type LogChoice, type LogPreview, useAddLog, useLogOptions, usePreviewLog } from '../../api/logs'
import { useCampaign } from '../../api/campaigns'
import type { Run } from '../../api/runs'
import { number, span } from '../../ui/words/format'
import NumberField from '../../ui/NumberField.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import LogColumns from './LogColumns.vue'
import LogFigures from './LogFigures.vue'

const props = defineProps<{ run: Run }>()
const { data: campaign } = useCampaign(() => props.run.campaign_id)
const instruments = computed(() => campaign.value?.instruments ?? [])

const { data: options, refetch: readOptions } = useLogOptions()
const { mutateAsync: previewLog, isPending: reading } = usePreviewLog()
const { mutateAsync: addLog, isPending: checking } = useAddLog()
const { problems, take, clear } = useProblems()

const zeros = [
  { value: 'leave out', label: 'nothing was read: leave them out' },
  { value: 'keep', label: 'it was zero: keep them' },
]
const zone = ref<HTMLElement>()
const input = ref<HTMLInputElement>()
const file = ref<File>()
const preview = ref<LogPreview>()
const choice = ref<LogChoice>()
const check = ref<LogCheck>()
const takeOver = ref<string[]>([])
const sure = ref(false)

const { isOverDropZone } = useDropZone(zone, { onDrop: (files) => files?.[0] && void begin(files[0]), multiple: false })

async function begin(
  chosen: File,
  layout: { separator?: string | null; decimal?: string | null; tuned?: string } = {},
): Promise<void> {
  forget()
  const limits = options.value ?? (await readOptions()).data
  if (limits && chosen.size > limits.most_bytes) {
    problems.value = [
      {
        where: 'file',
        what: `${chosen.name} is ${(chosen.size / 1048576).toFixed(0)} MiB; the most that is taken is ${limits.most_words}.`,
        todo: 'Cut the log to the part that belongs to this run, or log less often.',
      },
    ]
    return
  }
  try {
    const found = await previewLog({ file: chosen, runId: props.run.id, ...layout })
    file.value = chosen
    preview.value = found
    choice.value = found.choice
  } catch (trouble) {
    take(trouble)
  }
}

function forget(): void {
  clear()
  file.value = preview.value = choice.value = check.value = undefined
  takeOver.value = []
  sure.value = false
}

async function read(store: boolean): Promise<void> {
  if (!file.value || !choice.value) return
  clear()
  try {
    const result = await addLog({
      runId: props.run.id,
      file: file.value,
      choice: choice.value,
      takeOver: takeOver.value,
      store,
      sure: sure.value,
    })
    check.value = result
    if (!store) return
    void message.success(`Kept ${file.value.name} beside the run`)
    forget()
  } catch (trouble) {
    check.value = undefined
    take(trouble)
  }
}

function chosenFile(event: Event): void {
  const target = event.target as HTMLInputElement
  if (target.files?.[0]) void begin(target.files[0])
  target.value = ''
}

function changed(): void {
  check.value = undefined
  clear()
}

/** One of two answers to a question of the file, and the other again. */
function turn<Field extends 'last_line' | 'missing' | 'impossible'>(
  field: Field,
  yes: LogChoice[Field],
  no: LogChoice[Field],
): void {
  if (choice.value) choice.value[field] = choice.value[field] === yes ? no : yes
  changed()
}
function setZeros(value: LogChoice['zeros']): void {
  if (choice.value) choice.value.zeros = value
  changed()
}

const asks = (code: string): boolean => problems.value.some((problem) => problem.code === code)
const offerLastLine = computed(() => preview.value?.cut_short)
const offerMissing = computed(
  () => choice.value?.kind === 'frames' && (choice.value.missing === 'leave out' || asks('missing_frame_time')),
)
const offerZeros = computed(() => choice.value && (choice.value.zeros !== 'ask' || asks('zeros')))
const offerJumps = computed(() => choice.value?.jumps !== 'ask' || asks('lone_reading'))
const jumps = [
  { value: 'leave out', label: 'the sensor slipped: leave it out' },
  { value: 'keep', label: 'it was so: keep it' },
]
/** Which part of the log the figures are taken from. */
const stretches = [
  { value: 'loaded', label: 'where the part was loaded' },
  { value: 'whole', label: 'the whole log' },
  { value: 'given', label: 'from … to …' },
]
function setStretch(value: LogChoice['stretch']): void {
  if (!choice.value) return
  const found = check.value?.stretch
  choice.value.stretch = value
  choice.value.from_s = value === 'given' ? (choice.value.from_s ?? found?.from_s ?? 0) : null
  choice.value.to_s = value === 'given' ? (choice.value.to_s ?? found?.to_s ?? null) : null
  changed()
}
function setEnd(end: 'from_s' | 'to_s', value: number | null): void {
  if (choice.value) choice.value[end] = value
  changed()
}
function setJumps(value: LogChoice['jumps']): void {
  if (choice.value) choice.value.jumps = value
  changed()
}
const offerImpossible = computed(() => choice.value?.impossible === 'leave out' || asks('impossible_reading'))
</script>

<template>
  <div ref="zone" :class="['zone', { over: isOverDropZone }]">
    <p>
      Drop a log here, or
      <AButton size="small" :loading="reading" @click="input?.click()">choose a file</AButton>
    </p>
    <p class="quiet">
      CSV with telemetry (a time column and any channels) or with the time of each frame. Comma, semicolon or tab; point or comma
      as decimal sign; up to {{ options?.most_words ?? '…' }}.
    </p>
    <input
      ref="input"
      class="visually-hidden"
      type="file"
      accept=".csv,.txt,.tsv,.log"
      tabindex="-1"
      aria-label="Log file"
      @change="chosenFile"
    />
  </div>
  <template v-if="preview && choice && file">
    <LogColumns
      v-model:choice="choice"
      :instruments="instruments"
      :preview="preview"
      :file-name="file.name"
      :options="options"
      @layout="(layout) => file && begin(file, layout)"
      @changed="changed"
    />
    <div class="settle">
      <ACheckbox v-if="offerLastLine" :checked="choice.last_line === 'drop'" @change="turn('last_line', 'drop', 'refuse')">
        The last line is cut off: drop it
      </ACheckbox>
      <ACheckbox v-if="offerMissing" :checked="choice.missing === 'leave out'" @change="turn('missing', 'leave out', 'refuse')">
        Leave out frames without a time
      </ACheckbox>
      <ACheckbox
        v-if="offerImpossible"
        :checked="choice.impossible === 'leave out'"
        @change="turn('impossible', 'leave out', 'refuse')"
      >
        Leave out readings that cannot be
      </ACheckbox>
      <span v-if="offerJumps" class="asked">
        <label for="jumps">A reading that stands alone</label>
        <ASelect
          id="jumps"
          size="small"
          :value="choice.jumps === 'ask' ? undefined : choice.jumps"
          placeholder="please choose"
          :options="jumps"
          style="width: 260px"
          @change="(value) => setJumps(value as LogChoice['jumps'])"
        />
      </span>
      <span v-if="choice.kind === 'telemetry'" class="asked">
        <label for="stretch">Figures are taken from</label>
        <ASelect
          id="stretch"
          size="small"
          :value="choice.stretch"
          :options="stretches"
          style="width: 220px"
          @change="(value) => setStretch(value as LogChoice['stretch'])"
        />
        <template v-if="choice.stretch === 'given'">
          <NumberField
            :model-value="choice.from_s ?? null"
            label="From"
            unit="s"
            width="110px"
            @update:model-value="setEnd('from_s', $event)"
          />
          <NumberField
            :model-value="choice.to_s ?? null"
            label="To"
            unit="s"
            width="110px"
            @update:model-value="setEnd('to_s', $event)"
          />
        </template>
      </span>
      <template v-if="offerZeros">
        <label for="zeros">Readings of zero</label>
        <ASelect
          id="zeros"
          size="small"
          :value="choice.zeros === 'ask' ? undefined : choice.zeros"
          placeholder="please choose"
          :options="zeros"
          style="width: 260px"
          @change="(value) => setZeros(value as LogChoice['zeros'])"
        />
      </template>
    </div>
  </template>
  <ProblemList :problems="problems" title="This log cannot be read as it is; nothing was stored:" />
  <p v-if="check" class="covers" data-test="covers">
    Read so, the log covers <strong>{{ span(check.covers_s) }}</strong>: {{ check.rows }} rows, one every
    {{ number(check.every_s, check.every_s < 1 ? 3 : 1) }} s.
    <template v-if="run.duration_s != null && run.duration_s > 0">The run says {{ span(run.duration_s) }}.</template>
    If that cannot be, choose how the time is written, and read it again.
    <span v-if="check.stretch" data-test="stretch"
      >Figures are of <strong>{{ number(check.stretch.from_s, 0) }} s to {{ number(check.stretch.to_s, 0) }} s</strong
      >{{ choice?.stretch === 'loaded' ? ', where the part was loaded' : '' }}; move it above if that is wrong.</span
    >
  </p>
  <div v-if="check?.doubts.length" class="doubts" role="alert">
    <p v-for="doubt in check.doubts" :key="doubt" class="caution">{{ doubt }}</p>
    <ACheckbox v-model:checked="sure">The log is right; keep it so</ACheckbox>
  </div>
  <LogFigures v-if="check" v-model:take-over="takeOver" :check="check" />
  <div v-if="preview && file" class="acts">
    <AButton v-if="!check" type="primary" :loading="checking" @click="read(false)">Read it like this</AButton>
    <AButton v-else type="primary" :loading="checking" :disabled="check.doubts.length > 0 && !sure" @click="read(true)"
      >Save the log with this run</AButton
    >
    <AButton @click="forget">Cancel</AButton>
  </div>
</template>

<style scoped>
.zone {
  padding: 16px;
  border: 1px dashed var(--quiet);
  border-radius: 3px;
}
.zone.over {
  border-color: var(--petrol);
  background: var(--wash);
}
.covers {
  margin-top: 12px;
}
.doubts {
  margin: 8px 0;
  padding: 8px 12px;
  border-left: 3px solid var(--ochre);
}
.asked {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.settle {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  margin: 8px 0;
}
.acts {
  display: flex;
  gap: 8px;
  margin-top: 12px;
}
</style>
