<!-- Says that only the last runs are listed, and where all of them are. -->
<script setup lang="ts">
import { RouterLink } from 'vue-router'

defineProps<{ shown: number; total: number; settingId: number }>()
</script>

<template>
  <p v-if="total > shown" class="quiet">
    The last {{ shown }} of {{ total }} runs at this setting.
    <RouterLink :to="{ name: 'logbook', query: { setting: settingId } }">All of them in the logbook</RouterLink>
  </p>
</template>
