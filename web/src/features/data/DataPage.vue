<!-- The data as a whole: its copies, putting one back, checking it, who is let in, and whose work ships with it. -->
<script setup lang="ts">
import { RouterLink } from 'vue-router'

import { useSession } from '../../api/session'
import { archiveAddress } from '../../api/archive'
import DownloadButton from '../../ui/DownloadButton.vue'
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
        The whole logbook as an archive: a zip of CSV and Parquet that Trelvo imports and other programs read.
        <DownloadButton small :address="archiveAddress()">Download the archive</DownloadButton>
      </p>
      <p class="quiet">
        An archive holds campaigns with their rigs, runs and logs. A copy holds everything, also the queue, tokens and accounts.
        Download a single campaign on its Prepare page; import files on the
        <RouterLink :to="{ name: 'campaigns' }">list of campaigns</RouterLink>.
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
