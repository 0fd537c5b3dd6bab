<!-- Signing in, where Trelvo is served to other machines. -->
<script setup lang="ts">
import { Button as AButton, Input as AInput } from 'ant-design-vue'
import { ref } from 'vue'

import { useSignIn } from '../api/session'
import ProblemList from './ProblemList.vue'
import { useProblems } from '../composables/useProblems'
import TextField from './TextField.vue'

const { mutateAsync, isPending } = useSignIn()
const { problems, take, clear } = useProblems()
const name = ref('')
const password = ref('')

async function enter(): Promise<void> {
  clear()
  try {
    await mutateAsync({ name: name.value, password: password.value })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <form class="sign sheet" @submit.prevent="enter">
    <h1>Sign in</h1>
    <p class="quiet">Trelvo can be reached from other machines here, so please sign in.</p>
    <TextField v-model="name" label="Name" :most="150" />
    <div>
      <label class="field-name" for="password">Password</label>
      <AInput id="password" v-model:value="password" type="password" autocomplete="current-password" :maxlength="200" />
    </div>
    <ProblemList :problems="problems" title="Sign-in failed:" />
    <AButton type="primary" html-type="submit" :loading="isPending">Sign in</AButton>
  </form>
</template>

<style scoped>
.sign {
  display: grid;
  gap: 16px;
  max-width: 420px;
  margin: 48px auto;
  padding: 24px;
}
</style>
