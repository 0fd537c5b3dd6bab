<!-- What a package would bring in, before anything is written. -->
<script setup lang="ts">
import { Checkbox as ACheckbox } from 'ant-design-vue'
import { computed } from 'vue'

import type { PackagePlan } from '../api/packages'
import { counted } from '../words/format'

const props = defineProps<{ plan: PackagePlan }>()
/** Campaigns that differ, and of which the package's state is taken in as well. */
const copies = defineModel<string[]>('copies', { required: true })
function choose(uid: string, on: boolean): void {
  copies.value = on ? [...copies.value, uid] : copies.value.filter((one) => one !== uid)
}
const fresh = computed(() => props.plan.campaigns.filter((one) => one.state === 'new').length)
</script>

<template>
  <p>
    {{
      fresh || plan.rigs.length || plan.journal
        ? `New: ${counted(fresh, 'campaign')} with ${counted(plan.runs, 'run')}, ${counted(plan.rigs.length, 'rig')}, ${plan.journal} journal ${plan.journal === 1 ? 'entry' : 'entries'}.`
        : 'There is nothing new in it.'
    }}
    {{
      plan.conflicts ? 'What differs stays as it is here; what the package has of it can be taken in as a copy beside it.' : ''
    }}
  </p>
  <table class="ledger" data-test="package-plan">
    <thead>
      <tr>
        <th>Campaign</th>
        <th class="number">Runs</th>
        <th>In this logbook</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in plan.campaigns" :key="one.uid">
        <td>{{ one.name }}</td>
        <td class="number figure">{{ one.runs }}</td>
        <td>
          {{ one.state }}<span v-if="one.says" class="quiet">: {{ one.says }}</span>
          <ACheckbox
            v-if="one.state === 'differs'"
            :checked="copies.includes(one.uid)"
            @update:checked="(on: boolean) => choose(one.uid, on)"
            >take the package's in as a copy</ACheckbox
          >
        </td>
      </tr>
    </tbody>
  </table>
</template>
