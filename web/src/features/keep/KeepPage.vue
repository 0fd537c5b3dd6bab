<!-- The end of the work: settings that may be kept side by side, what each part brings, and the settings that are kept. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { useKeep, useKeptSettings } from '../../api/keep'
import { useStageCampaign } from '../../composables/useStageCampaign'
import LoadState from '../../ui/LoadState.vue'
import CandidateTable from './CandidateTable.vue'
import ComponentTable from './ComponentTable.vue'
import KeepForm from './KeepForm.vue'
import KeptSettingCard from './KeptSettingCard.vue'
import ReportPanel from './ReportPanel.vue'

const campaign = useStageCampaign()
const route = useRoute()
const router = useRouter()
const settingId = computed(() => (/^\d+$/.test(String(route.query.setting)) ? Number(route.query.setting) : undefined))
const choose = (id: number): void => void router.replace({ query: { ...route.query, setting: id } })
const { data: keep, isPending, error, refetch } = useKeep(() => campaign.value.id, settingId)
const { data: keptSettings } = useKeptSettings(() => ({ campaign_id: campaign.value.id, past: true }))
const live = computed(() => (keptSettings.value ?? []).filter((one) => !one.taken_back_at))
const past = computed(() => (keptSettings.value ?? []).filter((one) => one.taken_back_at))
</script>

<template>
  <section v-if="live.length" aria-label="Kept settings" class="kept" data-test="kept-settings">
    <KeptSettingCard v-for="one in live" :key="one.id" :kept-setting="one" :campaign="campaign" />
  </section>
  <LoadState :pending="isPending" :error="error" what="What may be kept" @again="refetch">
    <template v-if="keep">
      <div class="head">
        <h2>{{ live.length ? 'What else may be kept' : 'What may be kept' }}</h2>
        <span class="quiet">{{ keep.far.text }} {{ keep.stock_says.text }}</span>
      </div>
      <CandidateTable :keep="keep" :chosen="keep.chosen_id" @choose="choose" />
      <div class="two">
        <ComponentTable :keep="keep" :campaign="campaign" @choose="choose" />
        <KeepForm :key="keep.chosen_id" :keep="keep" :campaign="campaign" @choose="choose" />
      </div>
      <details v-if="past.length" class="past">
        <summary>No longer kept ({{ past.length }})</summary>
        <ul>
          <li v-for="one in past" :key="one.id">
            <strong>{{ one.name }}</strong> {{ one.title }}
            <span class="quiet">{{ one.reason }}</span>
          </li>
        </ul>
      </details>
      <ReportPanel />
      <p class="quiet rig">
        What happens to this rig outside runs (a driver, dust, a move, a crash) belongs into
        <RouterLink :to="{ name: 'rig', params: { id: campaign.rig_id } }"
          ><AButton size="small">{{ campaign.rig_name }}: journal and years</AButton></RouterLink
        >
      </p>
    </template>
  </LoadState>
</template>

<style scoped>
.kept {
  display: grid;
  gap: 16px;
  margin-bottom: 24px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 0 16px;
  align-items: baseline;
  margin-bottom: 8px;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 8fr) minmax(0, 4fr);
  gap: 32px;
  margin-top: 24px;
}
.past,
.rig {
  margin-top: 24px;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
