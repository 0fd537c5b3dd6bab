<script setup lang="ts">
import { useRouter } from 'vue-router'

import { useStageCampaign } from '../../composables/useStageCampaign'

const campaign = useStageCampaign()
void useRouter().replace({ name: campaign.value.current, params: { id: campaign.value.id } })
</script>

<template>
  <p class="quiet">Opening {{ campaign.current }} …</p>
</template>
