<script setup lang="ts">
import { registry } from '../api/registry'
import { RouterLink } from 'vue-router'

import { shortcuts } from '../composables/keys'
import KeyCap from './KeyCap.vue'
import OutcomeLegend from './OutcomeLegend.vue'
import { terms } from './words/terms'
import SideSheet from './SideSheet.vue'

const open = defineModel<boolean>('open', { required: true })
</script>

<template>
  <SideSheet v-model:open="open" title="Help" :width="440">
    <p>
      <RouterLink :to="{ name: 'guide' }" @click="open = false">Guide: from an empty logbook to a kept setting</RouterLink>
    </p>
    <h2>Keys</h2>
    <table class="ledger">
      <tbody>
        <tr v-for="shortcut in shortcuts" :key="shortcut.key">
          <td>
            <KeyCap>{{ shortcut.key }}</KeyCap>
          </td>
          <td>{{ shortcut.what }}</td>
          <td class="quiet">{{ shortcut.where }}</td>
        </tr>
      </tbody>
    </table>
    <h2 class="next">Quick line</h2>
    <p>
      A run in one line, words in any order after what they belong to:
      <span class="figure">core +135 gorge 8421 72c 212w wall 12min ok # panel off</span>
    </p>
    <table class="ledger lines">
      <tbody>
        <tr v-for="line in registry.quick_line" :key="line.examples">
          <td class="figure">{{ line.examples }}</td>
          <td>{{ line.means }}</td>
        </tr>
      </tbody>
    </table>
    <h2 class="next">How a run can end</h2>
    <OutcomeLegend />
    <h2 class="next">Words</h2>
    <dl>
      <template v-for="[term, meaning] in terms" :key="term">
        <dt>{{ term }}</dt>
        <dd>{{ meaning }}</dd>
      </template>
    </dl>
    <p class="quiet next">
      Figures in italics are estimates; upright ones were measured. Gains are given with the interval that holds the true value 95
      times in 100.
    </p>
  </SideSheet>
</template>

<style scoped>
.lines td:first-child {
  white-space: normal;
}
.next {
  margin-top: 24px;
}
dl {
  margin: 8px 0 0;
}
dt {
  font-weight: 700;
}
dd {
  margin: 0 0 8px;
  color: var(--quiet);
}
</style>
