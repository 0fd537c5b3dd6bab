<!-- Where other machines are let in: one's own password, and for owners everyone who is let in. -->
<script setup lang="ts">
import { Button as AButton, Input as AInput, message, Select as ASelect } from 'ant-design-vue'
import { computed, ref } from 'vue'

import { type Account, useChangeAccount, useChangePassword, useLetIn, useSignOutEverywhere } from '../../api/accounts'
import { useRigs } from '../../api/rigs'
import { useProblems } from '../../composables/useProblems'
import ProblemList from '../../ui/ProblemList.vue'
import { moment } from '../../ui/words/format'

const props = defineProps<{ owner: boolean; name: string }>()
const { data } = useLetIn(() => props.owner)
const { data: rigs } = useRigs()
const EVERY_RIG = 0
const rigChoices = computed(() => [
  { value: EVERY_RIG, label: 'on every rig' },
  ...(rigs.value ?? []).map((rig) => ({ value: rig.id, label: `on ${rig.name} only` })),
])
const { mutateAsync: change } = useChangeAccount()
const { mutateAsync: changePassword, isPending: changing } = useChangePassword()
const { mutateAsync: signOutEverywhere } = useSignOutEverywhere()
const { problems, guarded } = useProblems()
const was = ref('')
const wished = ref('')
const roles = [
  { value: 'owner', label: 'owner: may do everything' },
  { value: 'bench', label: 'bench: may only log runs' },
]

const setRole = (account: Account, role: unknown): Promise<void> =>
  guarded(() => change({ id: account.id, role: role as Account['role'] }))
const setRig = (account: Account, rigId: unknown): Promise<void> =>
  guarded(() => change({ id: account.id, rig_id: rigId === EVERY_RIG ? null : (rigId as number) }))
const setLetIn = (account: Account): Promise<void> => guarded(() => change({ id: account.id, let_in: !account.let_in }))
const newPassword = (): Promise<void> =>
  guarded(async () => {
    await changePassword({ old: was.value, new: wished.value })
    was.value = wished.value = ''
    void message.success('The password is changed; other browsers have to sign in again')
  })
</script>

<template>
  <section>
    <h2>Who is let in</h2>
    <ProblemList :problems="problems" title="This could not be done:" />
    <table v-if="data" class="ledger">
      <thead>
        <tr>
          <th>Account</th>
          <th>May</th>
          <th>Signed in last</th>
          <th class="number">Browsers</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="account in data.accounts" :key="account.id">
          <td>{{ account.name }}<span v-if="!account.let_in" class="quiet"> (not let in)</span></td>
          <td>
            <ASelect
              size="small"
              :value="account.role"
              :options="roles"
              :aria-label="`What ${account.name} may do`"
              style="width: 220px"
              @change="(role) => setRole(account, role)"
            />
            <ASelect
              v-if="account.role === 'bench'"
              size="small"
              :value="account.rig_id ?? EVERY_RIG"
              :options="rigChoices"
              :aria-label="`Where ${account.name} may log`"
              style="width: 220px; margin: 4px 0 4px 8px"
              @change="(rig) => setRig(account, rig)"
            />
          </td>
          <td class="figure">{{ account.last_sign_in ? moment(account.last_sign_in) : 'never' }}</td>
          <td class="number figure">{{ account.signed_in }}</td>
          <td>
            <AButton size="small" @click="setLetIn(account)">{{ account.let_in ? 'Let in no longer' : 'Let in again' }}</AButton>
          </td>
        </tr>
        <tr v-for="bench in data.benches" :key="`${bench.rig} ${bench.name}`">
          <td>{{ bench.name }}</td>
          <td class="quiet">bench with a token, for {{ bench.rig }}</td>
          <td class="figure">{{ bench.heard_at ? moment(bench.heard_at) : 'never heard of' }}</td>
          <td></td>
          <td></td>
        </tr>
      </tbody>
    </table>
    <p v-if="data" class="quiet">A new account is made where Trelvo runs: <span class="figure">./run.py account NAME</span>.</p>
    <form class="password" @submit.prevent="newPassword">
      <h3>Your password, {{ name }}</h3>
      <label class="field-name" for="password-now">Password now</label>
      <AInput id="password-now" v-model:value="was" type="password" autocomplete="current-password" :maxlength="200" />
      <label class="field-name" for="password-new">New password</label>
      <AInput id="password-new" v-model:value="wished" type="password" autocomplete="new-password" :maxlength="200" />
      <p class="acts">
        <AButton html-type="submit" :loading="changing" :disabled="!was || !wished">Change password</AButton>
        <AButton @click="guarded(() => signOutEverywhere())">Sign out everywhere</AButton>
      </p>
    </form>
  </section>
</template>

<style scoped>
section {
  margin-top: 32px;
}
.password {
  max-width: 320px;
  margin-top: 16px;
}
.acts {
  display: flex;
  gap: 8px;
  margin-top: 8px;
}
</style>
