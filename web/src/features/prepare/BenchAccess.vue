<!-- Who may send readings: the simulator by itself, or the agent on the real machine, with a token. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { Button as AButton, message } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { useMakeToken, useTokens, useWithdrawToken } from '../../api/benches'
import { moment } from '../../ui/words/format'
import ProblemList from '../../ui/ProblemList.vue'
import { useProblems } from '../../composables/useProblems'
import ChoiceField from '../../ui/ChoiceField.vue'
import TextField from '../../ui/TextField.vue'
import { useStageCampaign } from '../../composables/useStageCampaign'

const campaign = useStageCampaign()
const { data: tokens } = useTokens(() => campaign.value.rig_id)
const { mutateAsync: make, isPending } = useMakeToken()
const { mutateAsync: withdraw } = useWithdrawToken()
const { problems, take, clear, at } = useProblems()
const name = ref('')
const words = ref('')

const ofProcessor = computed(() => {
  const roles = registry.value.roles.filter((one) => one.processor).map((one) => one.role)
  return campaign.value.knobs.some((knob) => roles.includes(knob.role))
})
const tunings = [
  { value: 'processor', label: 'the processor' },
  { value: 'other', label: 'another part' },
]
/** What the user chose; until then what the knobs say. */
const chosen = ref<string>()
const tuning = computed({
  get: () => chosen.value ?? (ofProcessor.value ? 'processor' : 'other'),
  set: (value) => (chosen.value = value),
})
const shells = [
  { value: 'unix', label: 'Linux or macOS' },
  { value: 'windows', label: 'Windows (PowerShell)' },
]
const shell = ref(navigator.userAgent.includes('Windows') ? 'windows' : 'unix')
const python = computed(() => (shell.value === 'windows' ? 'py' : 'python3'))
/** As the shell takes it, whatever is in the name. */
const quoted = (text: string): string => `'${text.replaceAll("'", shell.value === 'windows' ? "''" : "'\\''")}'`
/** One command that fetches the agent and makes the run that comes next; nothing but Python is needed there. */
const command = computed(() => {
  const step = campaign.value.next?.step
  const workload = campaign.value.workloads.find((one) => one.id === step?.workload_id) ?? campaign.value.workloads[0]
  const set = Object.entries(step?.values ?? {}).map(([key, value]) => ` --set ${key}=${value}`)
  const minutes = step?.act === 'climb' && step.minutes ? ` --minutes ${step.minutes}` : ''
  const fetch = `${python.value} -c "import urllib.request as u; u.urlretrieve('${location.origin}/api/bench/agent.pyz', 'trelvo-agent.pyz')"`
  const run = `${python.value} trelvo-agent.pyz --server ${location.origin} --campaign ${campaign.value.id} --workload ${quoted(workload?.name ?? '')}${set.join('')}${minutes} --tuning ${tuning.value}`
  return shell.value === 'windows'
    ? `${fetch}; if ($?) { $env:TRELVO_TOKEN = '${words.value}'; ${run} }`
    : `${fetch} && TRELVO_TOKEN=${words.value} ${run}`
})

async function create(): Promise<void> {
  clear()
  try {
    words.value = (await make({ rigId: campaign.value.rig_id, name: name.value })).words
    name.value = ''
  } catch (trouble) {
    take(trouble)
  }
}
async function copy(text: string): Promise<void> {
  await navigator.clipboard.writeText(text)
  void message.success('Copied.')
}
</script>

<template>
  <section aria-label="Benches">
    <h2>Benches</h2>
    <p v-if="campaign.simulator" class="quiet">
      This rig is a simulator: <span class="figure">{{ campaign.simulator }}, specimen {{ campaign.simulator_seed }}</span
      >. Trelvo drives it by itself. A real machine may send to this campaign as well.
    </p>
    <p v-else class="quiet">
      The agent runs on the machine under test, reads its sensors and sends them here. It changes nothing on that machine.
    </p>
    <table v-if="tokens?.length" class="ledger">
      <thead>
        <tr>
          <th>Token for</th>
          <th>Made</th>
          <th>Last heard</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="token in tokens" :key="token.id">
          <td>{{ token.name }}</td>
          <td class="quiet">{{ moment(token.created_at) }}</td>
          <td class="quiet">{{ token.heard_at ? moment(token.heard_at) : 'never' }}</td>
          <td class="number">
            <span v-if="token.revoked_at" class="quiet">withdrawn</span>
            <AButton v-else size="small" type="text" @click="withdraw(token.id)">Withdraw</AButton>
          </td>
        </tr>
      </tbody>
    </table>
    <form class="make" @submit.prevent="create">
      <TextField
        v-model="name"
        label="Token for which machine"
        hint="dome machine, under the desk"
        :most="80"
        :trouble="at('name')"
      />
      <AButton html-type="submit" :loading="isPending">Make a token</AButton>
    </form>
    <ProblemList v-if="!at('name')" :problems="problems" title="Not made:" />
    <div v-if="words" class="new">
      <p>
        The token is shown this once: <code data-test="token">{{ words }}</code>
      </p>
      <ChoiceField v-model="tuning" label="What is tuned there" :options="tunings" />
      <ChoiceField v-model="shell" label="Its system" :options="shells" />
      <p>
        Copy this command to that machine; it needs Python 3.11 and nothing else. It fetches the agent and makes the run that
        comes next; after a later step, copy the part from <code>{{ python }} trelvo-agent.pyz</code> on with other values.
      </p>
      <p>
        <code data-test="command">{{ command }}</code> <AButton size="small" @click="copy(command)">Copy</AButton>
      </p>
    </div>
  </section>
</template>

<style scoped>
.make {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 8px;
  align-items: end;
  margin-top: 8px;
}
.new {
  display: grid;
  gap: 8px;
  margin-top: 12px;
  padding: 12px 16px;
  border-left: 3px solid var(--petrol);
}
code {
  overflow-wrap: anywhere;
  font-family: 'B612 Mono', monospace;
  font-size: 13px;
}
</style>
