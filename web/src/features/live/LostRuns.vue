<!-- On every page: runs whose bench fell silent and that wait for an answer; and how many go on. -->
<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { useEndsOfRuns } from '../../api/live'

const LostRun = defineAsyncComponent(() => import('./LostRun.vue'))
const { data } = useEndsOfRuns()
const route = useRoute()
/** The run's own page asks by itself, and so does the head of its campaign. */
const asksItself = (live: { run_id: number; campaign_id: number }): boolean => {
  const shown = Number(route.params.id)
  if (route.name === 'run') return shown === live.run_id
  return route.matched.some((one) => one.path.startsWith('/campaigns/')) && shown === live.campaign_id
}
const elsewhere = computed(() => data.value?.filter((live) => !asksItself(live)) ?? [])
const lost = computed(() => elsewhere.value.filter((live) => live.standing.state === 'lost'))
const going = computed(() => elsewhere.value.filter((live) => live.standing.state === 'open'))
</script>

<template>
  <div v-if="lost.length || going.length" class="page">
    <LostRun v-for="live in lost" :key="live.run_id" :live="live" with-link />
    <p v-if="going.length" class="going" role="status">
      <template v-for="(live, index) in going" :key="live.run_id">
        <template v-if="index">; </template>
        <RouterLink :to="{ name: 'run', params: { id: live.run_id } }"
          >{{ live.workload_name }} at {{ live.setting_title }}</RouterLink
        >
      </template>
      {{ going.length === 1 ? 'is' : 'are' }} running now.
    </p>
  </div>
</template>

<style scoped>
.page {
  padding-bottom: 0;
}
.going {
  padding: 4px 0;
  font-size: 13px;
}
</style>
