<!-- A chart with its name, its sentence for those who cannot see it, and its ways out: CSV, SVG, PNG. -->
<script setup lang="ts">
import { useIntersectionObserver } from '@vueuse/core'
import { Button as AButton } from 'ant-design-vue'
import type { EChartsOption } from 'echarts'
import { ref } from 'vue'
import VChart from 'vue-echarts'

import { type Cell, downloadCsv } from './words/tables'
import { savePng, saveSvg } from './saveDrawing'
import './chartSetup'

const props = defineProps<{
  name: string
  says: string
  option: EChartsOption
  height: number
  headers: string[]
  rows: Cell[][]
  brushable?: boolean
}>()
const emit = defineEmits<{ brushed: [areas: { coordRange: [number, number] }[]]; chosen: [item: unknown] }>()

/** A chart is drawn once it comes near the window: a log of many channels opens at once. */
const frame = ref<HTMLElement>()
const near = ref(typeof IntersectionObserver === 'undefined')
useIntersectionObserver(frame, (seen) => (near.value ||= seen.some((one) => one.isIntersecting)), { rootMargin: '300px' })

const chart = ref<InstanceType<typeof VChart>>()

/** Dragging across the chart chooses a stretch, without a tool to be picked up first. */
function armBrush(): void {
  if (props.brushable)
    chart.value?.dispatchAction({
      type: 'takeGlobalCursor',
      key: 'brush',
      brushOption: { brushType: 'lineX', brushMode: 'single' },
    })
}
function brushEnd(payload: object): void {
  const event = payload as { areas?: { coordRange: [number, number] }[] }
  if (!event.areas?.length) return
  chart.value?.dispatchAction({ type: 'brush', areas: [] })
  emit('brushed', event.areas)
}

const drawn = (): SVGElement | null | undefined => chart.value?.root?.querySelector('svg')
</script>

<template>
  <figure ref="frame" class="frame">
    <div v-if="!near" :style="{ height: `${height}px` }" />
    <VChart
      v-else
      ref="chart"
      :option="option"
      autoresize
      :style="{ height: `${height}px` }"
      role="img"
      :aria-label="says"
      @finished.once="armBrush"
      @brush-end="brushEnd"
      @click="(item: unknown) => emit('chosen', item)"
    />
    <figcaption>
      <span class="quiet">{{ says }}</span>
      <span class="ways">
        <AButton size="small" type="text" @click="downloadCsv(name, headers, rows)">CSV</AButton>
        <AButton size="small" type="text" @click="saveSvg(drawn(), name)">SVG</AButton>
        <AButton size="small" type="text" @click="savePng(drawn(), name)">PNG</AButton>
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
