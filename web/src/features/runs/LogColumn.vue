<!-- One column of a log: what it is, in which unit, of which part, and whether it is the run's figure. -->
<script setup lang="ts">
import { Select as ASelect } from 'ant-design-vue'
import { computed } from 'vue'

import type { LogChoice } from '../../api/logs'
import type { Schemas } from '../../api/client'
import type { Instrument } from '../../api/instruments'
import { number, plain } from '../../ui/words/format'
import { FRAME, LEFT_OUT, roleOf, TIME } from './logRoles'

type Column = LogChoice['columns'][number]

const props = defineProps<{
  seen: Schemas['ColumnSeen']
  changed: boolean
  index: number
  cells: string
  choice: LogChoice
  options: Schemas['LogOptions'] | undefined
  instruments: Instrument[]
}>()
const emit = defineEmits<{ role: [role: string]; column: [change: Partial<Column>]; frameUnit: [unit: string] }>()

const header = computed(() => props.seen.header)
const role = computed(() => roleOf(props.choice, header.value))
const column = computed(() => props.choice.columns.find((one) => one.header === header.value))
const channel = computed(() => (props.choice.kind === 'telemetry' ? column.value : undefined))
const figured = computed(() => channel.value && channel.value.quantity !== 'other')

const roles = computed(() =>
  [LEFT_OUT, TIME, FRAME, ...Object.keys(props.options?.units ?? {})].map((value) => ({ value, label: value })),
)
const units = computed(() => {
  if (role.value === FRAME) return props.options?.frame_units ?? []
  return props.options?.units[role.value]?.filter((unit) => unit !== '') ?? []
})
const unit = computed(() => (role.value === FRAME ? props.choice.frame_unit : (channel.value?.unit ?? undefined)))
const parts = computed(() => (props.options?.parts ?? []).map((value) => ({ value, label: value })))
const tells = [
  { value: 'yes', label: 'the run’s figure' },
  { value: 'no', label: 'kept beside it' },
]
const marks = [
  { value: 'decimal', label: 'decimal sign' },
  { value: 'thousands', label: 'between thousands' },
]
const asksMark = computed(() => props.seen.asks === 'decimal mark' || channel.value?.mark === 'thousands')
/** Instruments of the rig that can have read the column; asked where there is more than the usual one. */
const instrumentsHere = computed(() => props.instruments.filter((one) => one.quantity === role.value))

const open = computed(() => {
  if (!figured.value || !channel.value) return role.value === TIME && !props.choice.time_format
  return channel.value.unit === null || channel.value.part === null || channel.value.tells === null
})
const asked = computed(() => props.seen.question && (open.value || (asksMark.value && !channel.value?.mark)))
const comesTo = computed(() => {
  const [lowest, highest, mean] = [props.seen.lowest, props.seen.highest, props.seen.mean].map((value) =>
    role.value === 'other' ? plain(value) : number(value, props.seen.decimals),
  )
  const unit = props.seen.unit ? ` ${props.seen.unit}` : ''
  const empty = props.seen.missing ? `; ${props.seen.missing} empty` : ''
  return `${lowest} to ${highest}, mean ${mean}${unit}${empty}.`
})
const unread = computed(() => props.changed || props.seen.mean == null)
</script>

<template>
  <li :class="{ asked }">
    <div class="name">
      <strong>{{ header }}</strong>
      <span class="quiet figure cells" :title="cells">{{ cells }}</span>
    </div>
    <div class="picks">
      <label class="visually-hidden" :for="`role-${index}`">What {{ header }} is</label>
      <ASelect
        :id="`role-${index}`"
        size="small"
        :virtual="false"
        :value="role"
        :options="roles"
        style="width: 132px"
        @change="(value) => emit('role', String(value))"
      />
      <template v-if="units.length > 1">
        <label class="visually-hidden" :for="`unit-${index}`">Unit of {{ header }}</label>
        <ASelect
          :id="`unit-${index}`"
          size="small"
          :value="unit"
          :status="unit == null ? 'error' : ''"
          placeholder="unit?"
          :options="units.map((value) => ({ value, label: value }))"
          style="width: 84px"
          @change="(value) => (role === FRAME ? emit('frameUnit', String(value)) : emit('column', { unit: String(value) }))"
        />
      </template>
      <span v-else-if="unit" class="quiet">{{ unit }}</span>
      <template v-if="figured && channel">
        <label class="visually-hidden" :for="`part-${index}`">Part that {{ header }} reads</label>
        <ASelect
          :id="`part-${index}`"
          size="small"
          :value="channel.part ?? undefined"
          :status="channel.part == null ? 'error' : ''"
          placeholder="which part?"
          :options="parts"
          style="width: 124px"
          @change="(value) => emit('column', { part: value as Column['part'] })"
        />
        <label class="visually-hidden" :for="`tells-${index}`">Whether {{ header }} is the run’s figure</label>
        <ASelect
          :id="`tells-${index}`"
          size="small"
          :value="channel.tells == null ? undefined : channel.tells ? 'yes' : 'no'"
          :status="channel.tells == null ? 'error' : ''"
          placeholder="does it count?"
          :options="tells"
          style="width: 148px"
          @change="(value) => emit('column', { tells: value === 'yes' })"
        />
        <ASelect
          v-if="asksMark"
          size="small"
          :value="channel.mark ?? undefined"
          :status="channel.mark == null ? 'error' : ''"
          placeholder="its mark?"
          :aria-label="`Mark in ${header}`"
          :options="marks"
          style="width: 168px"
          @change="(value) => emit('column', { mark: value as Column['mark'] })"
        />
        <ASelect
          v-if="instrumentsHere.length > 0"
          size="small"
          :value="String(channel.instrument_id ?? '')"
          style="width: 196px"
          :aria-label="`Instrument of ${header}`"
          :options="[
            { value: '', label: 'no instrument named' },
            ...instrumentsHere.map((one) => ({ value: String(one.id), label: one.name })),
          ]"
          @change="(value) => emit('column', { instrument_id: value ? Number(value) : null })"
        />
      </template>
    </div>
    <p class="why">
      <span v-if="asked" class="caution">{{ seen.question?.text }}</span>
      <template v-else-if="changed"><span class="quiet">As you say.</span></template>
      <template v-else>
        <span v-if="!unread" class="figure">{{ comesTo }}</span>
        <span class="quiet">{{ unread ? '' : ' ' }}{{ seen.why.text }}</span>
      </template>
    </p>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: minmax(120px, 1fr) minmax(0, 3fr);
  gap: 4px 12px;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
li.asked {
  padding-left: 8px;
  border-left: 3px solid var(--ochre);
}
.name strong {
  display: block;
  overflow-wrap: anywhere;
}
.cells {
  display: block;
  overflow: hidden;
  font-size: 12px;
  text-overflow: ellipsis;
  white-space: pre;
}
.picks {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 6px;
  align-items: center;
}
.why {
  grid-column: 1 / -1;
  margin: 0;
  font-size: 13px;
}
</style>
