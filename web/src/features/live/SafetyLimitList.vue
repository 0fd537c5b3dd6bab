<!-- The safety limits of a run, and those that its bench cannot watch. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { computed } from 'vue'

import type { Live, SafetyLimit } from '../../api/live'

const props = defineProps<{ safetyLimits: SafetyLimit[]; unwatched: Live['unwatched'] }>()
const isBlind = (safetyLimit: SafetyLimit): boolean =>
  props.unwatched.some((one) => one.kind === safetyLimit.kind && one.channel === safetyLimit.channel)
const unit = (safetyLimit: SafetyLimit): string =>
  registry.value.limits.find((kind) => kind.kind === safetyLimit.kind)?.unit ?? ''
const blind = computed(() => props.safetyLimits.filter(isBlind).length)
</script>

<template>
  <section aria-label="Safety limits">
    <h2>Safety limits</h2>
    <table v-if="safetyLimits.length" class="ledger">
      <tbody>
        <tr v-for="safetyLimit in safetyLimits" :key="safetyLimit.kind + safetyLimit.channel">
          <td>
            {{ safetyLimit.kind }} <span class="quiet">{{ safetyLimit.channel }}</span>
          </td>
          <td class="number figure">{{ safetyLimit.limit }} {{ unit(safetyLimit) }}</td>
          <td><span v-if="isBlind(safetyLimit)" class="warning">not watched here</span></td>
        </tr>
      </tbody>
    </table>
    <p v-else class="caution">None set: nothing stops a run by itself. Set them on the Prepare page.</p>
    <p v-if="blind" class="quiet why">
      This bench reads nothing for {{ blind === 1 ? 'one of them' : `${blind} of them` }}; watch it yourself.
    </p>
  </section>
</template>

<style scoped>
.why {
  margin-top: 4px;
  font-size: 13px;
}
</style>
