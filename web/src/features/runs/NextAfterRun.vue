<!-- On the page of a run that has ended: the one step that comes next in its campaign, as on every stage, so that it is one key away. -->
<script setup lang="ts">
import { onMounted, ref, useTemplateRef } from 'vue'

import { useCampaignFrame } from '../../composables/useCampaignFrame'
import StartLive from '../live/StartLive.vue'
import NextRow from '../campaign/NextRow.vue'
import RunForm from './RunForm.vue'

const props = defineProps<{ campaignId: number }>()
const next = useTemplateRef('next')
const {
  data: campaign,
  refetch,
  formOpen,
  formPreset,
  liveOpen,
  livePreset,
  lineExample,
} = useCampaignFrame(() => props.campaignId, next, false)
/** The end of the run may have changed the step: what was known before it is not shown. */
const isFresh = ref(false)
onMounted(async () => {
  // one that is under way has begun after it: the others were dropped then
  await refetch({ cancelRefetch: false })
  isFresh.value = true
})
</script>

<template>
  <template v-if="campaign && isFresh">
    <NextRow ref="next" class="after" :example="lineExample" />
    <StartLive v-model:open="liveOpen" :campaign="campaign" :preset="livePreset" />
    <RunForm v-model:open="formOpen" :campaign="campaign" :preset="formPreset" />
  </template>
</template>

<style scoped>
.after {
  margin-bottom: 16px;
}
</style>
