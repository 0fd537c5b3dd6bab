<!-- A rig over the years: the line of time, its journal, and what is kept on it. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { Button as AButton, message } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { whyOf } from '../../api/client'
import { type Entry, useAgeing, useJournalActs, useRigPage } from '../../api/journal'
import { useKeptSettings } from '../../api/keep'
import { useShortcut } from '../../composables/keys'
import { sayWithUndo } from '../../composables/sayWithUndo'
import KeyCap from '../../ui/KeyCap.vue'
import LoadState from '../../ui/LoadState.vue'
import KeptSettingCard from '../keep/KeptSettingCard.vue'
import { day, number } from '../../ui/words/format'
import JournalForm from './JournalForm.vue'
import TimeLine from './TimeLine.vue'

const props = defineProps<{ id: number }>()
const { data: page, isPending, error, refetch } = useRigPage(() => props.id)
const { data: ageing } = useAgeing(() => props.id)
const { data: keptSettings } = useKeptSettings(() => ({ rig_id: props.id }))
const { takeOut, bringBack } = useJournalActs()
const writing = ref(false)
const correcting = ref<Entry | null>(null)
useShortcut('j', () => write(null))
function write(entry: Entry | null): void {
  correcting.value = entry
  writing.value = true
}
const kindName = (kind: string): string => registry.value.journal_kinds.find((one) => one.value === kind)?.label ?? kind
const journal = computed(() => page.value?.journal ?? [])

async function remove(entry: Entry): Promise<void> {
  try {
    await takeOut.mutateAsync(entry.id)
    sayWithUndo(`entry-${entry.id}`, 'Taken out of the journal.', () => bringBack.mutateAsync(entry.id))
  } catch (trouble) {
    void message.error(whyOf(trouble))
  }
}
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The rig" @again="refetch">
    <template v-if="page">
      <header class="head">
        <h1>{{ page.name }}</h1>
        <span class="quiet">{{ page.simulator ? 'a rig of the simulator' : 'a real machine' }}</span>
        <AButton type="primary" @click="write(null)">Write into the journal <KeyCap>j</KeyCap></AButton>
      </header>
      <TimeLine :events="page.events" />
      <div class="two">
        <section aria-label="Journal" data-test="journal">
          <h2>Journal</h2>
          <p v-if="!journal.length" class="quiet">
            Nothing yet. A new driver, a cleaning, a move, a heat wave, a crash while it was used, a thought: whatever a run
            cannot know.
          </p>
          <article v-for="entry in journal" :key="entry.id" class="entry">
            <header>
              <strong>{{ kindName(entry.kind) }}</strong>
              <span class="quiet">{{ day(entry.at) }}</span>
              <span v-if="entry.room_c !== null" class="figure">room {{ number(entry.room_c, 0) }} °C</span>
              <span v-if="entry.corrected" class="quiet">corrected</span>
              <span class="acts">
                <AButton size="small" type="text" @click="write(entry)">Correct</AButton>
                <AButton size="small" type="text" @click="remove(entry)">Take out</AButton>
              </span>
            </header>
            <!-- eslint-disable-next-line vue/no-v-html : cleaned by the server -->
            <div class="text" v-html="entry.html"></div>
          </article>
        </section>
        <section aria-label="Kept on this rig">
          <template v-if="ageing?.length">
            <h2>Does it age?</h2>
            <section v-for="one in ageing" :key="`${one.knob} ${one.specimen}`" class="age" data-test="ageing">
              <p>
                <strong>{{ one.knob }}</strong> <span class="quiet">of {{ one.specimen || 'the tuned part' }}:</span>
                {{ one.says.text }}
              </p>
              <p class="quiet">
                <template v-for="(check, place) in one.checks" :key="check.at"
                  >{{ place ? '; ' : 'Edge found: ' }}{{ day(check.at) }}
                  <span class="figure estimate">{{ check.edge }} {{ check.give_or_take }}</span></template
                >.
              </p>
            </section>
          </template>
          <h2>Kept on this rig</h2>
          <p v-if="keptSettings?.length === 0" class="quiet">Nothing is kept yet: a campaign ends with it, on its page Keep.</p>
          <KeptSettingCard v-for="one in keptSettings" :key="one.id" :kept-setting="one" class="kept" />
        </section>
      </div>
      <JournalForm v-model:open="writing" :rig-id="page.id" :entry="correcting" />
    </template>
  </LoadState>
</template>

<style scoped>
.head {
  display: flex;
  gap: 12px;
  align-items: baseline;
  margin: 16px 0 8px;
}
.head .quiet {
  flex: 1;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
  gap: 32px;
  margin-top: 16px;
}
.entry {
  padding: 8px 0;
  border-top: 1px solid var(--rule);
}
.entry header {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  align-items: baseline;
}
.acts {
  margin-left: auto;
}
.text :deep(p) {
  margin: 4px 0;
}
.age p {
  margin: 0 0 4px;
}
.age:last-of-type {
  margin-bottom: 16px;
}
.kept {
  margin-top: 8px;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
