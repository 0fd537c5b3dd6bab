<script setup lang="ts">
import { App as AApp, Button as AButton, ConfigProvider as AConfigProvider } from 'ant-design-vue'
import { computed, defineAsyncComponent, onMounted, ref, watch } from 'vue'
import { RouterLink, RouterView } from 'vue-router'

import { useSession, useSignOut } from './api/session'
import { helpOpen, useShortcut } from './composables/keys'
import HealthBand from './ui/HealthBand.vue'
import LostRuns from './features/live/LostRuns.vue'
import KeyCap from './ui/KeyCap.vue'
import { antConfig, choice, isDim, useThemeVariables } from './composables/theme'

// what most visits never show is not on the way of what they do
const fetchHelp = () => import('./ui/HelpSheet.vue')
const HelpSheet = defineAsyncComponent(fetchHelp)
const SignInForm = defineAsyncComponent(() => import('./ui/SignInForm.vue'))
// ahead of time; where that fails it is asked for again once it is wanted
onMounted(() => setTimeout(() => fetchHelp().catch(() => undefined), 2_000))

useThemeVariables()
const { data: session, isError } = useSession()
const { mutate: signOut } = useSignOut()
/** Unless signing in is needed; where nobody answers, each page says so itself. */
const letIn = computed(() => isError.value || (session.value && (!session.value.needed || !!session.value.name)))
const helpAsked = ref(false)
watch(helpOpen, (isOpen) => (helpAsked.value ||= isOpen))
const toggleHelp = (): boolean => (helpOpen.value = !helpOpen.value)
useShortcut('?', toggleHelp, () => helpOpen.value)
</script>

<template>
  <AConfigProvider :theme="antConfig" :auto-insert-space-in-button="false">
    <AApp>
      <a class="skip" href="#content">Go to the content</a>
      <header class="top">
        <RouterLink class="word" :to="{ name: 'campaigns' }">
          <img src="/mark.svg" alt="" width="24" height="24" /> Trelvo
        </RouterLink>
        <span class="quiet motto">from first baseline to kept setting</span>
        <RouterLink v-if="letIn" class="practice" :to="{ name: 'logbook' }">Logbook</RouterLink>
        <RouterLink v-if="letIn" class="practice" :to="{ name: 'practices' }">Practice bench</RouterLink>
        <AButton type="text" :aria-pressed="isDim" @click="choice = isDim ? 'light' : 'dim'">
          {{ isDim ? 'Light theme' : 'Dim theme' }}
        </AButton>
        <AButton v-if="session?.name" type="text" @click="signOut()">Sign {{ session.name }} out</AButton>
        <RouterLink v-if="letIn" class="practice" :to="{ name: 'data' }">Data</RouterLink>
        <AButton type="text" @click="toggleHelp">Help <KeyCap>?</KeyCap></AButton>
      </header>
      <HealthBand />
      <LostRuns v-if="letIn" />
      <main id="content" class="page"><RouterView v-if="letIn" /><SignInForm v-else-if="session" /></main>
      <HelpSheet v-if="helpAsked" v-model:open="helpOpen" />
    </AApp>
  </AConfigProvider>
</template>

<style scoped>
.top {
  display: flex;
  align-items: center;
  gap: 8px;
  max-width: 1296px;
  margin: 0 auto;
  padding: 8px 24px;
}
.word {
  display: inline-flex;
  align-items: center;
  gap: 8px;
  color: var(--ink);
  font-weight: 700;
  font-size: 16px;
  text-decoration: none;
}
.motto {
  flex: 1;
  padding-left: 8px;
  font-size: 13px;
}
.practice {
  padding: 4px 8px;
  color: var(--ink);
  text-decoration: none;
}
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
}
@media (max-width: 860px) {
  .top {
    padding: 8px 16px;
  }
}
/* a phone: the links go below the name */
@media (max-width: 620px) {
  .top {
    flex-wrap: wrap;
    gap: 0 4px;
  }
  .word {
    flex-basis: 100%;
  }
  .motto {
    display: none;
  }
  .top > .practice,
  .top > :deep(.ant-btn) {
    padding: 4px 6px;
    line-height: 1;
  }
}
</style>
