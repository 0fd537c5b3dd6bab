<!-- The whole story to hand on: as one HTML file, as Markdown, or twelve lines and a picture for a post. -->
<script setup lang="ts">
import { Button as AButton, message } from 'ant-design-vue'
import { useClipboard } from '@vueuse/core'
import { computed, ref } from 'vue'

import { useShortReport } from '../../api/report'
import { useStageCampaign } from '../../composables/useStageCampaign'
import DownloadButton from '../../ui/DownloadButton.vue'
import LoadState from '../../ui/LoadState.vue'
import SideSheet from '../../ui/SideSheet.vue'

const campaign = useStageCampaign()
const open = ref(false)
const { data, isPending, error, refetch } = useShortReport(() => campaign.value.id, open)
const address = (kind: string): string => `/api/campaigns/${campaign.value.id}/report.${kind}`
const text = computed(() => (data.value?.lines ?? []).join('\n'))
const { copy, isSupported } = useClipboard({ source: text })
const SCALE = 2

async function copyText(): Promise<void> {
  await copy()
  void message.success('Copied.')
}
/** Draws the picture in this browser: no other program is needed for a PNG. */
function picture(): void {
  const svg = data.value?.svg
  if (!svg) return
  const image = new Image()
  image.onload = () => {
    const canvas = document.createElement('canvas')
    canvas.width = image.width * SCALE
    canvas.height = image.height * SCALE
    const pen = canvas.getContext('2d')
    if (!pen) return
    pen.fillStyle = '#FFFDF8'
    pen.fillRect(0, 0, canvas.width, canvas.height)
    pen.drawImage(image, 0, 0, canvas.width, canvas.height)
    const link = document.createElement('a')
    link.href = canvas.toDataURL('image/png')
    link.download = `${campaign.value.name.replace(/[^A-Za-z0-9]+/g, '-').toLowerCase()}.png`
    link.click()
  }
  image.onerror = () => void message.error('This browser could not draw the picture.')
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`
}
</script>

<template>
  <section aria-label="Report" class="report">
    <span>The whole story, to hand on:</span>
    <DownloadButton :address="address('html')" small data-test="report-html">Report (HTML)</DownloadButton>
    <DownloadButton :address="address('md')" small>Report (Markdown)</DownloadButton>
    <AButton size="small" @click="open = true">Short, for a post</AButton>
    <SideSheet v-model:open="open" title="For a post" :width="640">
      <LoadState :pending="isPending" :error="error" what="The short report" @again="refetch">
        <template v-if="data">
          <pre data-test="short-report">{{ text }}</pre>
          <p class="acts">
            <AButton v-if="isSupported" type="primary" @click="copyText">Copy</AButton>
            <AButton v-if="data.svg" @click="picture">Picture (PNG)</AButton>
          </p>
          <img
            v-if="data.svg"
            :src="`data:image/svg+xml;charset=utf-8,${encodeURIComponent(data.svg)}`"
            alt="Overall speed of each setting against stock"
          />
        </template>
      </LoadState>
    </SideSheet>
  </section>
</template>

<style scoped>
.report {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-top: 24px;
}
pre {
  padding: 12px;
  border: 1px solid var(--rule);
  background: var(--ground);
  color: var(--ink);
  font: inherit;
  white-space: pre-wrap;
}
.acts {
  display: flex;
  gap: 8px;
  margin: 12px 0;
}
img {
  max-width: 100%;
  background: #fffdf8;
}
</style>
