<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { RouterLink } from 'vue-router'

import { useCampaigns } from '../api/campaigns'
import { day } from '../words/format'
import GainFigure from '../parts/GainFigure.vue'
import LoadState from '../parts/LoadState.vue'
import StateMark from '../parts/StateMark.vue'
import ImportCampaign from './ImportCampaign.vue'

const { data: campaigns, isPending, error, refetch } = useCampaigns()
</script>

<template>
  <div class="head">
    <h1>Campaigns</h1>
    <ImportCampaign />
    <RouterLink :to="{ name: 'new' }"><AButton type="primary">New campaign</AButton></RouterLink>
  </div>
  <LoadState :pending="isPending" :error="error" what="Campaigns" @again="refetch">
    <div v-if="campaigns?.length === 0" class="sheet empty">
      <h2>Nothing here yet</h2>
      <p>
        A campaign is one tuning effort: a rig, a goal, the knobs you turn and the workloads you measure. Describe it
        once, log a baseline at stock, then climb.
      </p>
      <RouterLink :to="{ name: 'new' }"><AButton type="primary">Describe the first campaign</AButton></RouterLink>
    </div>
    <ol v-else class="list">
      <li v-for="campaign in campaigns" :key="campaign.id">
        <RouterLink class="sheet card" :to="{ name: 'campaign', params: { id: campaign.id } }">
          <div class="what">
            <h2>{{ campaign.name }}</h2>
            <p class="quiet">{{ campaign.rig_name }} · {{ campaign.goal_label }} · begun {{ day(campaign.created_at) }}</p>
            <p v-if="campaign.aim" class="aim">{{ campaign.aim }}</p>
          </div>
          <div class="where">
            <span class="field-name">Where</span>
            <ol class="stages">
              <li v-for="stage in campaign.standing.stages" :key="stage.name" :title="`${stage.name}: ${stage.state}`">
                <StateMark :state="stage.state" />
              </li>
            </ol>
            <span>
              {{ campaign.standing.current }}
              <span class="quiet figure">{{ campaign.run_count }} {{ campaign.run_count === 1 ? 'run' : 'runs' }}</span>
            </span>
          </div>
          <div class="gained">
            <span class="field-name">Best so far</span>
            <template v-if="campaign.best">
              <GainFigure :gain="campaign.best.gain" stacked />
              <span class="quiet small">on {{ campaign.best.workload }}</span>
            </template>
            <span v-else class="quiet">nothing to compare yet</span>
          </div>
          <div class="next">
            <span class="field-name">Next</span>
            {{ campaign.standing.next_step }}
          </div>
        </RouterLink>
      </li>
    </ol>
  </LoadState>
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 16px 0;
}
.head h1 {
  flex: 1;
}
.list {
  display: grid;
  gap: 12px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.card {
  display: grid;
  grid-template-columns: minmax(0, 5fr) 150px 190px minmax(0, 4fr);
  gap: 24px;
  padding: 16px;
  color: var(--ink);
  text-decoration: none;
}
.card:hover {
  border-color: var(--petrol);
  color: var(--ink);
  text-decoration: none;
}
.aim {
  margin-top: 4px;
}
.stages {
  display: flex;
  gap: 4px;
  margin: 2px 0 6px;
  padding: 0;
  list-style: none;
}
.small {
  font-size: 13px;
}
.where .figure {
  margin-left: 6px;
  font-size: 13px;
}
.gained span {
  display: block;
}
.empty {
  display: grid;
  justify-items: start;
  gap: 12px;
  max-width: 640px;
  padding: 24px;
}
@media (max-width: 1000px) {
  .card {
    grid-template-columns: 1fr 1fr;
    gap: 12px 24px;
  }
}
</style>
