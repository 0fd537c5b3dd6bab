<!-- A part's clock over its voltage: as it is, and as it is shaped. -->
<script setup lang="ts">
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'

import type { CurveView } from '../api/lab'
import { colours } from '../composables/theme'
import { number, signed } from '../ui/words/format'
import DataChart from '../ui/DataChart.vue'
import { chartStyle } from '../ui/chartSetup'

const props = defineProps<{ view: CurveView }>()
const rows = computed(() =>
  props.view.shaped
    ? props.view.shaped.points.map((one) => [one.voltage_v, one.stock_mhz, one.core_mhz, one.offset_mhz])
    : props.view.curve.map((one) => [one.voltage_v, one.core_mhz, null, null]),
)
const option = computed<EChartsOption>(() => {
  const c = colours.value
  return {
    animation: false,
    textStyle: chartStyle.value.text,
    grid: { left: 28, right: 24, top: 16, bottom: 26, containLabel: true },
    tooltip: {
      trigger: 'item',
      ...chartStyle.value.tooltip,
      formatter: (item: unknown) => {
        const { value } = item as { value: [number, number, number?] }
        const offset = value[2] === undefined ? '' : `, offset ${signed(value[2], 0)} MHz`
        return `${number(value[0], 0)} mV: ${number(value[1], 0)} MHz${offset}`
      },
    },
    xAxis: { type: 'value', scale: true, name: 'voltage, mV', nameLocation: 'middle', nameGap: 28, ...chartStyle.value.axis },
    yAxis: { type: 'value', scale: true, name: 'core clock, MHz', nameLocation: 'middle', nameGap: 52, ...chartStyle.value.axis },
    series: [
      {
        type: 'line',
        symbolSize: 5,
        data: props.view.curve.map((one) => [1000 * one.voltage_v, one.core_mhz]),
        lineStyle: { color: c.quiet, type: 'dashed', width: 1.4 },
        itemStyle: { color: c.quiet },
        endLabel: { show: true, formatter: 'stock', color: c.quiet, offset: [-36, 14] },
      },
      {
        type: 'line',
        symbol: 'rect',
        symbolSize: 7,
        data: props.view.shaped?.points.map((one) => [1000 * one.voltage_v, one.core_mhz, one.offset_mhz]) ?? [],
        lineStyle: { color: c.petrol, width: 2 },
        itemStyle: { color: c.petrol },
      },
    ],
  }
})
</script>

<template>
  <DataChart
    name="clock over voltage"
    says="Dashed: the curve as it is. Line with squares: as shaped, flat beyond the cap."
    :option="option"
    :height="280"
    :headers="['voltage V', 'stock MHz', 'new MHz', 'offset MHz']"
    :rows="rows"
  />
</template>
