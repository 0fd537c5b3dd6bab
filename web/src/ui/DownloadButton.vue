<!-- A file that takes the server a while: says how far it is while it is put together and while it arrives. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'

import { useDownload } from '../composables/useDownload'

const props = defineProps<{ address: string; small?: boolean }>()
const { said, trouble, download } = useDownload()
</script>

<template>
  <span class="download">
    <AButton :size="small ? 'small' : 'middle'" :loading="!!said" @click="download(props.address)"><slot /></AButton>
    <span v-if="said" role="status" class="quiet figure">{{ said }}</span>
    <span v-if="trouble" role="alert" class="caution">{{ trouble }}</span>
  </span>
</template>

<style scoped>
.download {
  display: inline-flex;
  gap: 8px;
  align-items: center;
}
</style>
