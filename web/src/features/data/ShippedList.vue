<!-- Others' work that ships with Trelvo, and on which terms. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { computed, ref } from 'vue'
import { shipped } from 'virtual:licences'

import { useLicences } from '../../api/copies'

const { data } = useLicences()
const open = ref(false)
const all = computed(() =>
  [...(data.value ?? []), ...shipped].sort((a, b) => a.name.localeCompare(b.name, 'en', { sensitivity: 'base' })),
)
</script>

<template>
  <section>
    <h2>Built on</h2>
    <p>
      Trelvo ships with {{ all.length }} open packages of others, each under its own licence. It asks nothing of the network while
      it runs.
      <AButton size="small" :aria-expanded="open" @click="open = !open">{{ open ? 'Hide the list' : 'Show the list' }}</AButton>
    </p>
    <table v-if="open" class="ledger" data-test="licences">
      <thead>
        <tr>
          <th>Package</th>
          <th>Version</th>
          <th>Licence</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in all" :key="`${one.name} ${one.version}`">
          <td>{{ one.name }}</td>
          <td class="figure">{{ one.version }}</td>
          <td>{{ one.licence }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
section {
  margin-top: 32px;
}
</style>
