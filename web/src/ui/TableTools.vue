<!-- Copy and download of a table's rows: what is on the screen, as plain numbers. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { ref } from 'vue'

import { type Cell, copyTable, downloadCsv } from './words/tables'

const props = defineProps<{ name: string; headers: string[]; rows: Cell[][] }>()
const copied = ref(false)

async function copy(): Promise<void> {
  await copyTable(props.headers, props.rows)
  copied.value = true
  setTimeout(() => (copied.value = false), 2000)
}
</script>

<template>
  <span class="tools">
    <AButton size="small" type="text" @click="copy">{{ copied ? 'Copied' : 'Copy' }}</AButton>
    <AButton size="small" type="text" @click="downloadCsv(name, headers, rows)">CSV</AButton>
  </span>
</template>
