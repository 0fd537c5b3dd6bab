<!-- What an import would store, before anything is written. -->
<script setup lang="ts">
import { Checkbox as ACheckbox } from 'ant-design-vue'
import { computed } from 'vue'

import type { ImportPlan } from '../../api/archive'
import { counted } from '../../ui/words/format'

const props = defineProps<{ plan: ImportPlan }>()
/** Campaigns that are there already and are stored as copies as well. */
const copies = defineModel<string[]>('copies', { required: true })
function choose(uid: string, on: boolean): void {
  copies.value = on ? [...copies.value, uid] : copies.value.filter((one) => one !== uid)
}
const fresh = computed(() => props.plan.campaigns.filter((campaign) => campaign.state === 'new').length)
const there = computed(() => props.plan.campaigns.length > fresh.value)
</script>

<template>
  <p>
    {{
      fresh || plan.rigs.length || plan.journal
        ? `New: ${counted(fresh, 'campaign')} with ${counted(plan.runs, 'run')}, ${counted(plan.rigs.length, 'rig')}, ${plan.journal} journal ${plan.journal === 1 ? 'entry' : 'entries'}.`
        : 'There is nothing new in it.'
    }}
    {{ there ? 'Campaigns that this logbook has already are not changed. They can be imported as copies.' : '' }}
  </p>
  <table class="ledger" data-test="import-plan">
    <thead>
      <tr>
        <th>Campaign</th>
        <th class="number">Runs</th>
        <th>In this logbook</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="campaign in plan.campaigns" :key="campaign.uid">
        <td>{{ campaign.name }}</td>
        <td class="number figure">{{ campaign.runs }}</td>
        <td>
          {{ campaign.state }}
          <span v-for="difference in campaign.differences" :key="difference.text" class="quiet">· {{ difference.text }} </span>
          <ACheckbox
            v-if="campaign.state !== 'new'"
            :checked="copies.includes(campaign.uid)"
            @update:checked="(on: boolean) => choose(campaign.uid, on)"
            >import as a copy</ACheckbox
          >
        </td>
      </tr>
    </tbody>
  </table>
</template>
