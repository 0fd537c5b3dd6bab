<!-- A kept setting: in use or not, fresh or stale and why, what to type, what it rests on; hours and failures with one key. -->
<script setup lang="ts">
import { Button as AButton, message, Modal as AModal } from 'ant-design-vue'
import { computed, ref, toRef } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import type { Campaign } from '../../api/campaigns'
import { whyOf } from '../../api/client'
import { type KeptSetting, useKeptSettingActs } from '../../api/keep'
import { useAddSetting, useSettings } from '../../api/settings'
import { useShortcut } from '../../composables/keys'
import { sayWithUndo } from '../../composables/sayWithUndo'
import { useTryOut } from '../../composables/useTryOut'
import KeyCap from '../../ui/KeyCap.vue'
import TextField from '../../ui/TextField.vue'
import { chance, day, hoursWords, lowered, number } from '../../ui/words/format'
import { PROOF_WORDS } from '../../ui/words/proof'
import FailureSearch from './FailureSearch.vue'
import KeptSettingEvidence from './KeptSettingEvidence.vue'
import SimulatorUse from './SimulatorUse.vue'
import UseForm from './UseForm.vue'

const props = defineProps<{ keptSetting: KeptSetting; campaign?: Campaign }>()
const { putInUse, takeBack } = useKeptSettingActs()
const logging = ref<'hours' | 'failure' | null>(null)
const inUse = computed(() => !!props.keptSetting.since)
const state = computed(() => PROOF_WORDS[props.keptSetting.proof])
/** What the rig does not run with asks for nothing now: the one step of its campaign is another. */
const whenUsedAgain = computed(() => `Before it is used again: ${lowered(props.keptSetting.next?.text)}`)
/** The keys belong to what the rig runs with. */
useShortcut('u', () => inUse.value && (logging.value = 'hours'))
useShortcut('f', () => inUse.value && (logging.value = 'failure'))

async function use(on: boolean): Promise<void> {
  try {
    await putInUse.mutateAsync({ id: props.keptSetting.id, inUse: on })
  } catch (trouble) {
    void message.error(whyOf(trouble))
  }
}
/** A step down is run with everything that is measured before it is kept; the page then shows it. */
const tryOut = props.campaign ? useTryOut(toRef(() => props.campaign!)) : undefined
const { data: settings } = useSettings(() => props.keptSetting.campaign_id)
const addSetting = useAddSetting()
const router = useRouter()
const same = (one: Record<string, number>, other: Record<string, number>): boolean =>
  Object.keys({ ...one, ...other }).every((key) => one[key] === other[key])
async function stepDown(): Promise<void> {
  const { campaign, keptSetting } = props
  const lower = keptSetting.lower
  if (!lower || !campaign || !tryOut) return
  try {
    const there = settings.value?.find((one) => same(one.values, lower))
    const setting = there ?? (await addSetting.mutateAsync({ campaignId: campaign.id, body: { values: lower, note: '' } }))
    await tryOut({
      settingId: setting.id,
      values: lower,
      workloadId: campaign.workloads[0]?.id,
      workloadIds: campaign.workloads.map((one) => one.id),
      repeats: 2,
    })
    await router.push({ name: 'Keep', params: { id: campaign.id }, query: { setting: setting.id } })
  } catch (trouble) {
    void message.error(whyOf(trouble))
  }
}
const giving = ref(false)
const reason = ref('')
async function giveUp(): Promise<void> {
  const id = props.keptSetting.id
  try {
    await takeBack.mutateAsync({ id, reason: reason.value, takenBack: true })
    giving.value = false
    sayWithUndo(`kept-setting-${id}`, `${props.keptSetting.name} is no longer kept.`, () =>
      takeBack.mutateAsync({ id, reason: '', takenBack: false }),
    )
  } catch (trouble) {
    void message.error(whyOf(trouble))
  }
}
</script>

<template>
  <article
    class="sheet card"
    :class="{ stale: keptSetting.proof !== 'fresh' }"
    :aria-label="keptSetting.name"
    data-test="kept-setting"
  >
    <header>
      <h2>{{ keptSetting.name }}</h2>
      <span class="quiet">for {{ keptSetting.use }}, {{ keptSetting.title }}</span>
      <span class="state" :class="keptSetting.proof === 'fresh' ? 'gain' : 'caution'" data-test="proof-state">{{ state }}</span>
    </header>
    <p class="line">
      {{ keptSetting.since ? `In use since ${day(keptSetting.since)}` : `Not in use; kept ${day(keptSetting.kept_at)}` }}:
      <span data-test="use-says">{{ keptSetting.use_says.text }}</span>.
      <template v-if="!keptSetting.at_stock">
        {{ ' ' }}With all that was tested
        <strong class="figure estimate">{{ chance(keptSetting.tested ?? keptSetting.chance) }}</strong> sure of at most one
        failure in {{ hoursWords(keptSetting.accepted_hours)
        }}<template v-if="keptSetting.tested != null"
          >, after these changes <strong class="figure estimate">{{ chance(keptSetting.chance) }}</strong></template
        >; {{ number(100 * keptSetting.required, 0) }} % wanted.
      </template>
    </p>
    <p v-if="keptSetting.next" class="next" data-test="kept-setting-next">
      <strong v-if="inUse">{{ keptSetting.next.text }}</strong>
      <span v-else class="quiet">{{ whenUsedAgain }}</span>
      <AButton v-if="keptSetting.lower && campaign" :type="inUse ? 'primary' : 'default'" size="small" @click="stepDown">{{
        campaign.simulator ? 'Run it' : 'Log it'
      }}</AButton>
    </p>
    <ul v-if="keptSetting.changes.length" class="changes">
      <li v-for="change in keptSetting.changes" :key="change.says.text">
        {{ change.says.text }} <span class="quiet">since {{ day(change.since) }}; touches {{ change.touches }}</span>
      </li>
    </ul>
    <FailureSearch v-if="keptSetting.open_failure" :kept-setting="keptSetting" :failure="keptSetting.open_failure" />
    <p v-for="one in keptSetting.past_failures" :key="one.entry_id" class="quiet small">
      {{ day(one.at) }}: {{ one.outcome }}{{ one.workload ? ` in ${one.workload}` : '' }}; it was {{ one.verdict }}.
    </p>
    <div class="two">
      <section aria-label="What to type">
        <h3>{{ keptSetting.at_stock ? 'Everything at stock' : 'What to type, in this order' }}</h3>
        <table class="lines">
          <tbody>
            <tr v-for="line in keptSetting.lines" :key="line.knob">
              <td>{{ line.knob }}</td>
              <td class="figure">
                <strong>{{ line.value }}</strong>
              </td>
              <td class="quiet">back: {{ line.stock }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="keptSetting.warmest_c !== null" class="quiet small">
          Holds as wished up to a room of about {{ number(keptSetting.warmest_c, 0) }} °C.
        </p>
      </section>
      <KeptSettingEvidence :kept-setting="keptSetting" />
    </div>
    <footer>
      <template v-if="inUse">
        <AButton :type="keptSetting.next ? 'default' : 'primary'" @click="logging = 'hours'"
          >Log hours <KeyCap>u</KeyCap></AButton
        >
        <AButton @click="logging = 'failure'">It failed <KeyCap>f</KeyCap></AButton>
        <AButton @click="use(false)">Out of use</AButton>
      </template>
      <AButton v-else @click="use(true)">The rig runs with it now</AButton>
      <RouterLink :to="{ name: 'kept setting card', params: { id: keptSetting.id } }"
        ><AButton>Card to print</AButton></RouterLink
      >
      <AButton type="text" @click="giving = true">No longer keep</AButton>
    </footer>
    <AModal
      v-model:open="giving"
      :title="`No longer keep ${keptSetting.name}`"
      ok-text="No longer keep"
      :confirm-loading="takeBack.isPending.value"
      @ok="giveUp"
    >
      <p>What it rests on, its hours and its failures stay in the logbook.</p>
      <TextField v-model="reason" label="Why" hint="fails in the new show" :most="400" class="why" />
    </AModal>
    <SimulatorUse v-if="keptSetting.simulator && inUse && campaign" :kept-setting="keptSetting" :campaign="campaign" />
    <UseForm v-model:what="logging" :kept-setting="keptSetting" :campaign="campaign" />
  </article>
</template>

<style scoped>
.card {
  display: grid;
  gap: 8px;
  padding: 12px 16px 16px;
  border-left: 3px solid var(--petrol);
}
.card.stale {
  border-left-color: var(--ochre);
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  align-items: baseline;
}
.state {
  margin-left: auto;
  font-weight: 700;
}
.changes {
  margin: 0;
  padding-left: 20px;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 4fr) minmax(0, 7fr);
  gap: 32px;
}
.lines {
  border-collapse: collapse;
}
.lines td {
  padding: 2px 16px 2px 0;
}
.why {
  margin: 12px 0;
}
footer {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
    gap: 8px;
  }
}
</style>
