<!-- The guard rails of a run, and those that its bench cannot watch. -->
<script setup lang="ts">
import { registry } from '../../api/registry'
import { computed } from 'vue'

import type { Live, Rail } from '../../api/live'

const props = defineProps<{ rails: Rail[]; unwatched: Live['unwatched'] }>()
const isBlind = (rail: Rail): boolean => props.unwatched.some((one) => one.kind === rail.kind && one.channel === rail.channel)
const unit = (rail: Rail): string => registry.value.limits.find((kind) => kind.kind === rail.kind)?.unit ?? ''
const blind = computed(() => props.rails.filter(isBlind).length)
</script>

<template>
  <section aria-label="Guard rails">
    <h2>Guard rails</h2>
    <table v-if="rails.length" class="ledger">
      <tbody>
        <tr v-for="rail in rails" :key="rail.kind + rail.channel">
          <td>
            {{ rail.kind }} <span class="quiet">{{ rail.channel }}</span>
          </td>
          <td class="number figure">{{ rail.limit }} {{ unit(rail) }}</td>
          <td><span v-if="isBlind(rail)" class="warning">not watched here</span></td>
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
