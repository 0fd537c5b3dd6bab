<script setup lang="ts">
import { Button as AButton, message } from 'ant-design-vue'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { whyOf } from '../../api/client'
import { useAddBuild, useRenameRig } from '../../api/rigs'
import { emptyBuild, buildLike, withoutEmptyParts } from '../campaigns/drafts'
import BuildEditor from '../campaigns/BuildEditor.vue'
import { day } from '../../ui/words/format'
import ProblemList from '../../ui/ProblemList.vue'
import TextField from '../../ui/TextField.vue'
import { useProblems } from '../../composables/useProblems'
import { useStageCampaign } from '../../composables/useStageCampaign'
import BenchAccess from './BenchAccess.vue'
import CautionsPanel from './CautionsPanel.vue'
import CampaignParts from './CampaignParts.vue'
import EndOfCampaign from './EndOfCampaign.vue'
import GoalPanel from './GoalPanel.vue'
import SafetyLimits from './SafetyLimits.vue'
import InstrumentList from './InstrumentList.vue'
import SideSheet from '../../ui/SideSheet.vue'
import TermWord from '../../ui/TermWord.vue'

const campaign = useStageCampaign()
const present = computed(() => campaign.value.builds.at(-1))
const earlier = computed(() => campaign.value.builds.slice(0, -1).reverse())

const { mutateAsync, isPending } = useAddBuild()
const { problems, take, clear } = useProblems()
const editing = ref(false)
const draft = ref(emptyBuild())

function begin(): void {
  clear()
  draft.value = present.value ? buildLike(present.value) : emptyBuild()
  editing.value = true
}
async function add(): Promise<void> {
  clear()
  try {
    await mutateAsync({ rigId: campaign.value.rig_id, body: withoutEmptyParts(draft.value) })
    editing.value = false
  } catch (trouble) {
    take(trouble)
  }
}
const { mutateAsync: renameRig } = useRenameRig()
const naming = ref(false)
const rigName = ref('')
const rigNameWas = ref('')
function beginName(): void {
  rigName.value = rigNameWas.value = campaign.value.rig_name
  naming.value = true
}
async function rename(): Promise<void> {
  try {
    await renameRig({ id: campaign.value.rig_id, name: rigName.value, was: rigNameWas.value })
    naming.value = false
  } catch (trouble) {
    void message.error(whyOf(trouble))
  }
}
const lines = (build: NonNullable<typeof present.value>): [string, string][] =>
  (
    [
      ['Cooling', build.cooling],
      ['Case or bench', build.enclosure],
      ['Driver', build.driver],
      ['Firmware', build.firmware],
      ['System', build.system],
      ['Note', build.note],
    ] as [string, string | undefined][]
  ).filter((line): line is [string, string] => !!line[1])
</script>

<template>
  <div class="two">
    <section>
      <div class="head">
        <h2>{{ campaign.rig_name }}, build {{ present?.number }}</h2>
        <span class="acts">
          <RouterLink :to="{ name: 'rig', params: { id: campaign.rig_id } }"
            ><AButton size="small" type="text">Journal</AButton></RouterLink
          >
          <AButton size="small" type="text" @click="beginName">Rename</AButton>
          <AButton size="small" @click="begin">Something has changed</AButton>
        </span>
      </div>
      <form v-if="naming" class="naming" @submit.prevent="rename">
        <TextField v-model="rigName" label="Name of the rig" :most="120" />
        <AButton html-type="submit" type="primary" size="small">Save</AButton>
        <AButton size="small" @click="naming = false">Cancel</AButton>
      </form>
      <p class="quiet">
        Since {{ present ? day(present.since) : '–' }}. A <TermWord term="Build">build</TermWord> is never changed, only followed
        by the next; results are compared within one.
      </p>
      <table v-if="present" class="ledger">
        <tbody>
          <tr v-for="part in present.parts" :key="part.role + part.name">
            <td class="quiet">{{ part.role }}</td>
            <td>
              {{ part.name }} <span class="quiet">{{ part.specimen }}</span>
            </td>
          </tr>
          <tr v-for="[name, text] in lines(present)" :key="name">
            <td class="quiet">{{ name }}</td>
            <td>{{ text }}</td>
          </tr>
        </tbody>
      </table>
      <details v-for="build in earlier" :key="build.id" class="earlier">
        <summary>Build {{ build.number }}, from {{ day(build.since) }}</summary>
        <table class="ledger">
          <tbody>
            <tr v-for="[name, text] in lines(build)" :key="name">
              <td class="quiet">{{ name }}</td>
              <td>{{ text }}</td>
            </tr>
          </tbody>
        </table>
      </details>
      <CautionsPanel class="next" />
      <BenchAccess class="next" />
    </section>
    <section>
      <GoalPanel />
      <InstrumentList class="next" />
      <SafetyLimits class="next" />
      <div class="next"><CampaignParts /></div>
      <EndOfCampaign />
    </section>
  </div>
  <SideSheet v-model:open="editing" title="The rig has changed: its next build" :width="720">
    <p class="quiet lead">
      Change what is different now. Runs made so far stay with build {{ present?.number }}; the baseline will be stale until stock
      has been measured again.
    </p>
    <BuildEditor v-model="draft" />
    <ProblemList :problems="problems" title="Not saved:" class="trouble" />
    <AButton type="primary" class="trouble" :loading="isPending" @click="add"
      >Begin build {{ (present?.number ?? 0) + 1 }}</AButton
    >
  </SideSheet>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
  gap: 40px;
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}
.acts {
  white-space: nowrap;
}
.naming {
  display: flex;
  gap: 8px;
  align-items: end;
  margin: 8px 0;
}
.next {
  margin-top: 24px;
}
.earlier {
  margin-top: 12px;
}
.trouble {
  margin-top: 16px;
}
.lead {
  margin-bottom: 16px;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
    gap: 24px;
  }
}
</style>
