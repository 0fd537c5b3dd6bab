<!-- A chart with its name, its sentence for those who cannot see it, and its ways out: CSV, SVG, PNG. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import type { EChartsOption } from 'echarts'
import { ref } from 'vue'
import VChart from 'vue-echarts'

import { type Cell, downloadCsv, save } from '../parts/tables'
import { colours } from '../theme'
import './setup'

const props = defineProps<{
  name: string
  says: string
  option: EChartsOption
  height: number
  headers: string[]
  rows: Cell[][]
}>()

const chart = ref<InstanceType<typeof VChart>>()

function svg(): string {
  const drawn = chart.value?.root?.querySelector('svg')
  if (!drawn) return ''
  const copy = drawn.cloneNode(true) as SVGElement
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  copy.style.background = colours.value.sheet
  return new XMLSerializer().serializeToString(copy)
}

const saveSvg = (): void => save(new Blob([svg()], { type: 'image/svg+xml' }), `${props.name}.svg`)

async function savePng(): Promise<void> {
  const picture = new Image()
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg())}`
  await picture.decode()
  const canvas = document.createElement('canvas')
  canvas.width = picture.width * 2
  canvas.height = picture.height * 2
  const context = canvas.getContext('2d')
  if (!context) return
  context.fillStyle = colours.value.sheet
  context.fillRect(0, 0, canvas.width, canvas.height)
  context.drawImage(picture, 0, 0, canvas.width, canvas.height)
  canvas.toBlob((content) => content && save(content, `${props.name}.png`))
}
</script>

<template>
  <figure class="frame">
    <VChart ref="chart" :option="option" autoresize :style="{ height: `${height}px` }" role="img" :aria-label="says" />
    <figcaption>
      <span class="quiet">{{ says }}</span>
      <span class="ways">
        <AButton size="small" type="text" @click="downloadCsv(name, headers, rows)">CSV</AButton>
        <AButton size="small" type="text" @click="saveSvg">SVG</AButton>
        <AButton size="small" type="text" @click="savePng">PNG</AButton>
      </span>
    </figcaption>
  </figure>
</template>

<style scoped>
.frame {
  min-width: 0;
  margin: 0;
  overflow: hidden;
}
figcaption {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 16px;
  font-size: 13px;
}
.ways {
  flex: none;
}
</style>
