<script setup lang="ts">
import { Button as AButton, message } from 'ant-design-vue'
import { ref } from 'vue'
import { RouterLink } from 'vue-router'

import { useCampaigns, useDeleted, useTakeBackDeletion } from '../../api/campaigns'
import { whyOf } from '../../api/client'
import { useKeptSettings } from '../../api/keep'
import { capital, day, glued, number } from '../../ui/words/format'
import MeasureFigure from '../../ui/MeasureFigure.vue'
import LoadState from '../../ui/LoadState.vue'
import StateMark from '../../ui/StateMark.vue'
import { PROOF_WORDS } from '../../ui/words/proof'
import FirstWays from './FirstWays.vue'
import ImportArchive from './ImportArchive.vue'

const archived = ref(false)
const { data: campaigns, isPending, error, refetch } = useCampaigns(archived)
const { data: deleted } = useDeleted()
const { data: keptSettings } = useKeptSettings({})
/** What the campaign's rig runs with, where it came out of this campaign. */
const inUse = (campaignId: number) => keptSettings.value?.find((one) => one.campaign_id === campaignId && one.since)
const { mutateAsync: takeBack } = useTakeBackDeletion()
const undo = (id: number): void => void takeBack(id).catch((trouble: unknown) => message.error(whyOf(trouble)))
</script>

<template>
  <div class="head">
    <h1>{{ archived ? 'Archived campaigns' : 'Campaigns' }}</h1>
    <AButton type="text" :aria-pressed="archived" @click="archived = !archived">{{
      archived ? 'Back to the campaigns' : 'Archive'
    }}</AButton>
    <template v-if="archived || campaigns?.length">
      <ImportArchive />
      <RouterLink :to="{ name: 'new' }"><AButton type="primary">New campaign</AButton></RouterLink>
    </template>
  </div>
  <LoadState :pending="isPending" :error="error" what="Campaigns" @again="refetch">
    <p v-for="gone in deleted" :key="gone.id" class="caution gone">
      “{{ gone.name }}” is deleted and will be removed at the next start.
      <AButton size="small" @click="undo(gone.id)">Undo</AButton>
    </p>
    <p v-if="archived && campaigns?.length === 0" class="quiet">
      Nothing is archived. A campaign is archived from its Prepare page.
    </p>
    <FirstWays v-else-if="campaigns?.length === 0" />
    <ol v-else class="list">
      <li v-for="campaign in campaigns" :key="campaign.id">
        <RouterLink class="sheet card" :to="{ name: 'campaign', params: { id: campaign.id } }">
          <div class="what">
            <h2>{{ campaign.name }}</h2>
            <p class="quiet">{{ campaign.rig_name }} · {{ campaign.goal_label }} · begun {{ day(campaign.created_at) }}</p>
            <p v-if="campaign.goal_words" class="aim">{{ capital(campaign.goal_words?.text) }}.</p>
          </div>
          <p v-if="campaign.waiting" class="trouble quiet" data-test="waiting">
            Being worked out from {{ number(campaign.run_count, 0) }} {{ campaign.run_count === 1 ? 'run' : 'runs' }}…
          </p>
          <p v-else-if="!campaign.standing" class="trouble warning">{{ campaign.trouble?.text }}</p>
          <template v-else>
            <div class="where">
              <span class="field-name">Where</span>
              <ol class="stages">
                <li v-for="stage in campaign.standing.stages" :key="stage.name" :title="`${stage.name}: ${stage.state}`">
                  <StateMark :state="stage.state" />
                </li>
              </ol>
              <span>
                {{ campaign.current }}
                <span class="quiet figure">{{ campaign.run_count }} {{ campaign.run_count === 1 ? 'run' : 'runs' }}</span>
              </span>
            </div>
            <div class="gained">
              <span class="field-name">Best so far</span>
              <template v-if="campaign.best">
                <MeasureFigure :measure="campaign.best.measure" :drawn="campaign.best.drawn" stacked />
                <span class="small">{{ campaign.best.title }}: {{ campaign.best.standing }}</span>
              </template>
              <span v-else class="quiet">{{ campaign.goal_far?.text }}</span>
              <span v-if="inUse(campaign.id)" class="small in-use" data-test="in-use"
                >In use: {{ inUse(campaign.id)!.name }},
                <span :class="inUse(campaign.id)!.proof === 'fresh' ? 'gain' : 'caution'">{{
                  PROOF_WORDS[inUse(campaign.id)!.proof]
                }}</span></span
              >
            </div>
            <div class="next">
              <span class="field-name">Next</span>
              <strong data-test="next-title">{{ campaign.next?.step.title.text }}</strong>
              <span class="quiet small">{{ glued(campaign.next?.step.why.text) }}</span>
            </div>
          </template>
        </RouterLink>
      </li>
    </ol>
  </LoadState>
</template>

<style scoped>
.gone {
  margin-bottom: 8px;
}
.trouble {
  grid-column: 2 / -1;
}
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
.where .figure {
  margin-left: 6px;
  font-size: 13px;
}

.gained > span,
.next span {
  display: block;
}
@media (max-width: 1000px) {
  .card {
    grid-template-columns: 1fr 1fr;
    gap: 12px 24px;
  }
}
</style>
