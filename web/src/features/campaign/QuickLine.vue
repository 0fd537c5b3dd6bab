<!-- A whole run typed in one line; shows what it understood and what it cannot accept, before anything is logged. -->
<script setup lang="ts">
import { Button as AButton, Input as AInput, message } from 'ant-design-vue'
import { refDebounced, useSessionStorage } from '@vueuse/core'
import { computed, nextTick, ref, useId, watch } from 'vue'

import { useLogLine, useReadLine } from '../../api/quickLine'
import { helpOpen } from '../../composables/keys'
import KeyCap from '../../ui/KeyCap.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import { useSayLogged } from '../../composables/useSayLogged'
import { useSendId } from '../../composables/useSendId'

const props = defineProps<{ campaignId: number; example: string }>()
const emit = defineEmits<{ close: [] }>()
/** Kept over a reload and the back button, until it is logged. */
const line = useSessionStorage(`trelvo-line-${props.campaignId}`, '')
let begun = ''
const settled = refDebounced(
  computed(() => line.value),
  150,
)
const { data: read, isPlaceholderData: ofEarlier } = useReadLine(() => props.campaignId, settled)
const { mutateAsync: log, isPending } = useLogLine()
const sayLogged = useSayLogged()
const { problems, take, clear } = useProblems()
const field = ref<{ focus: (how?: { cursor: 'end' }) => void }>()
const id = useId()

const shown = computed(() => (settled.value.trim() ? read.value : undefined))
/** While a word is being typed the line is never complete; what it lacks is told, but not in alarm. */
const lacking = computed(() => shown.value?.problems ?? [])
/** Whether what is shown is of the line as it stands. */
const current = computed(() => !!shown.value && !ofEarlier.value && settled.value === line.value)
const ready = computed(() => current.value && lacking.value.length === 0)
/** Enter that came before the line was read, or while the one before it was being logged: it counts once that is over. */
const waiting = ref(false)
const free = computed(() => current.value && !isPending.value)
watch(free, (isNow) => {
  if (!isNow || !waiting.value) return
  waiting.value = false
  // what was refused meanwhile comes first
  if (ready.value && !refused.value) void go()
})
function changed(): void {
  waiting.value = false
  if (!refused.value) clear()
}
function enter(): void {
  if (ready.value && free.value) void go()
  else waiting.value = !free.value && line.value.trim() !== ''
}

/** A line whose beginning is known: the cursor waits where the result and how it ended are to be typed. What was typed is never lost. */
async function begin(start?: string): Promise<void> {
  if (start === undefined) await nextTick()
  else if (line.value.trim() && line.value !== begun)
    void message.info('A line is typed already. Log it or clear it, then press once more.')
  else {
    clear()
    line.value = begun = start
  }
  await nextTick()
  field.value?.focus({ cursor: 'end' })
}
defineExpose({ begin })

/** No word of a line is a question mark, only its note may hold one. */
function help(event: KeyboardEvent): void {
  if (event.key !== '?' || line.value.includes('#')) return
  event.preventDefault()
  helpOpen.value = !helpOpen.value
}

/** What was typed stays for the next time. */
function leave(event: KeyboardEvent): void {
  ;(event.target as HTMLElement).blur()
  emit('close')
}

/** The server asks where a result is far from all that is known. */
const question = computed(() => problems.value.some((one) => one.where === 'sure'))

const sendId = useSendId()
/** A line that was refused while the next was being typed. */
const refused = ref('')

/** The line leaves the field when it is sent, so that the next can be typed; one that is refused comes back to an empty field. */
async function go(sure = false): Promise<void> {
  const sent = sure && refused.value ? refused.value : line.value
  if (!sent.trim() || isPending.value) return
  clear()
  if (line.value === sent) line.value = ''
  refused.value = ''
  try {
    sayLogged(await log({ campaignId: props.campaignId, line: sent, sure, uid: sendId.of(sent) }))
    sendId.done()
  } catch (trouble) {
    take(trouble)
    if (line.value.trim()) refused.value = sent
    else line.value = sent
  }
}
function takeBack(): void {
  line.value = refused.value
  refused.value = ''
  clear()
}
</script>

<template>
  <form class="quick" data-test="quick-line" @submit.prevent="go()">
    <label :for="id">Quick line <KeyCap>q</KeyCap></label>
    <AInput
      :id="id"
      ref="field"
      v-model:value="line"
      class="figure"
      autocomplete="off"
      spellcheck="false"
      :maxlength="400"
      :placeholder="`a run in one line, such as: ${example}`"
      :aria-describedby="`${id}-read`"
      @input="changed"
      @keydown.enter.prevent="enter"
      @keydown.esc.stop="leave"
      @keydown="help"
    />
    <span class="acts">
      <AButton html-type="submit" :type="ready ? 'primary' : 'default'" :loading="isPending || waiting" :disabled="!ready"
        >Log it <KeyCap>Enter</KeyCap></AButton
      >
      <AButton type="text" @click="emit('close')">Close <KeyCap>Esc</KeyCap></AButton>
    </span>
    <div :id="`${id}-read`" class="read" aria-live="polite">
      <p v-if="shown">
        <span class="quiet">Understood:</span>
        <span class="took setting">{{ shown.setting }}</span>
        <span v-for="one in shown.understood" :key="one.start" class="took">{{ one.meaning }}</span>
      </p>
      <ul v-if="lacking.length" class="lacking">
        <li v-for="problem in lacking" :key="problem.where + problem.what">
          <span class="caution">{{ problem.what }}</span> <span class="quiet">{{ problem.todo }}</span>
        </li>
      </ul>
    </div>
    <ProblemList
      v-if="problems.length"
      :problems="problems"
      :title="`${question ? 'Is that right?' : 'Not logged:'}${refused ? ` “${refused}”` : ''}`"
      class="refused"
    />
    <AButton v-if="refused" class="yes" @click="takeBack">Put that line back</AButton>
    <AButton v-if="question" class="yes" @click="go(true)">It is right, log it</AButton>
  </form>
</template>

<style scoped>
.quick {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 4px 12px;
  align-items: center;
}
.read,
.refused {
  grid-column: 2 / -1;
}
.yes {
  grid-column: 2;
  justify-self: start;
}
.took {
  display: inline-block;
  margin: 0 4px 2px;
  padding: 0 6px;
  border-bottom: 1px solid var(--petrol);
}
.took.setting {
  font-weight: 700;
}
/* on a phone the field has the width of the screen */
@media (width <= 560px) {
  .quick {
    grid-template-columns: minmax(0, 1fr);
  }
  .read,
  .refused,
  .yes {
    grid-column: 1;
  }
}
.lacking {
  margin: 2px 0 0;
  padding: 0;
  list-style: none;
}
</style>
