/** The chart library with what Trelvo draws, in Trelvo's colours. */
import { BarChart, CustomChart, LineChart, ScatterChart } from 'echarts/charts'
import { BrushComponent, GridComponent, MarkAreaComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'

import { colours } from '../composables/theme'
import { axisNumber } from '../charts/ticks'

use([
  BarChart,
  CustomChart,
  LineChart,
  ScatterChart,
  GridComponent,
  TooltipComponent,
  MarkLineComponent,
  MarkAreaComponent,
  BrushComponent,
  SVGRenderer,
])

const face = { fontFamily: "'B612', sans-serif", fontSize: 12 }

/** Axis and tooltip styles in the present theme. */
export const chartStyle = computed(() => {
  const c = colours.value
  const axis = {
    axisLine: { lineStyle: { color: c.quiet } },
    axisTick: { lineStyle: { color: c.quiet } },
    axisLabel: { color: c.quiet, ...face, formatter: axisNumber },
    splitLine: { lineStyle: { color: c.rule, type: 'dotted' as const } },
    nameTextStyle: { color: c.quiet, fontFamily: "'B612', sans-serif", fontSize: 12 },
  }
  return {
    axis,
    tooltip: {
      backgroundColor: c.sheet,
      borderColor: c.rule,
      textStyle: { color: c.ink, ...face },
      extraCssText: 'box-shadow: none; border-radius: 3px;',
    },
    text: { ...face, color: c.ink },
  }
})
