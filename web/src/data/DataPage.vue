<!-- The data as a whole: its copies, putting one back, checking it, who is let in, and whose work ships with it. -->
<script setup lang="ts">
import { RouterLink } from 'vue-router'

import { useSession } from '../api/session'
import { packageAddress } from '../api/packages'
import DownloadButton from '../parts/DownloadButton.vue'
import AccountsPanel from './AccountsPanel.vue'
import CopiesPanel from './CopiesPanel.vue'
import ShippedList from './ShippedList.vue'

const { data: session } = useSession()
</script>

<template>
  <h1>Data and copies</h1>
  <template v-if="session?.owner">
    <CopiesPanel />
    <section>
      <h2>Other ways out</h2>
      <p>
        The whole logbook as a data package of CSV and Parquet, for other programs.
        <DownloadButton small :address="packageAddress()">Download the data package</DownloadButton>
      </p>
      <p class="quiet">
        A package holds the logbook and its logs; a copy holds everything, queue, tokens and accounts too. Single campaigns go out
        and in as files from their <RouterLink :to="{ name: 'campaigns' }">list</RouterLink>.
      </p>
    </section>
  </template>
  <p v-else class="quiet">Copies are for owners of this Trelvo; this account may log runs.</p>
  <AccountsPanel v-if="session?.needed" :owner="session.owner" :name="session.name" />
  <ShippedList />
</template>

<style scoped>
section {
  margin-top: 32px;
}
section a {
  text-decoration: underline;
}
</style>
