<!-- Two figures of every setting against each other: what no other setting beats, what the goal asks for, the best ringed. -->
<script setup lang="ts">
import type { EChartsOption, CustomSeriesRenderItemAPI, CustomSeriesRenderItemParams } from 'echarts'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { type Axis, type Spot, useTradeOff } from '../../api/tradeOff'
import DataChart from '../../ui/DataChart.vue'
import { chartStyle } from '../../ui/chartSetup'
import { colours } from '../../composables/theme'
import { useStageCampaign } from '../../composables/useStageCampaign'
import ChoiceField from '../../ui/ChoiceField.vue'
import LoadState from '../../ui/LoadState.vue'
import { number, signed } from '../../ui/words/format'

const campaign = useStageCampaign()
const router = useRouter()
const x = ref<Axis>('power')
const y = ref<Axis>('speed')
const { data, isPending, error, refetch } = useTradeOff(() => campaign.value.id, x, y)
const choices = computed(() => data.value?.axes.map((one) => ({ value: one.axis, label: one.name })) ?? [])
const spots = computed(() => data.value?.spots ?? [])
const front = computed(() => spots.value.filter((spot) => spot.on_front).sort((a, b) => a.x.value - b.x.value))
const says = computed(() => {
  const named = front.value.map((spot) => spot.title).join('; ')
  const beyond = far.value.map((target) => ` Beyond the drawing: ${target.name}, ${signed(target.value, 1)} %, as reported.`)
  return `Of ${spots.value.length} settings these are beaten by no other in both: ${named}. The others are drawn in grey.${beyond.join('')}`
})
const rows = computed(() =>
  spots.value.map((spot) => [
    spot.title,
    spot.x.value,
    spot.x.low,
    spot.x.high,
    spot.y.value,
    spot.y.low,
    spot.y.high,
    spot.on_front ? 1 : 0,
    spot.chance,
  ]),
)
const headers = ['setting', 'x', 'x_low', 'x_high', 'y', 'y_low', 'y_high', 'on_front', 'chance_on_front']

/** From the lowest to the highest of the settings on an axis, whiskers included. */
const reach = (of: 'x' | 'y'): [number, number] => {
  const ends = spots.value.flatMap((spot) => [spot[of].value, spot[of].low ?? spot[of].value, spot[of].high ?? spot[of].value])
  return [Math.min(0, ...ends), Math.max(0, ...ends)]
}
/** A target far beyond all settings would press them together: it is named below instead. */
const isNear = (target: { axis: 'x' | 'y'; value: number }): boolean => {
  const [low, high] = reach(target.axis)
  return target.value <= high + (high - low) && target.value >= low - (high - low)
}
const near = computed(() => (data.value?.targets ?? []).filter(isNear))
const far = computed(() => (data.value?.targets ?? []).filter((target) => !isNear(target)))
/** From here to there on both axes, with room around. */
const span = (of: 'x' | 'y'): [number, number] => {
  const [low, high] = reach(of)
  const told = near.value.filter((target) => target.axis === of).map((target) => target.value)
  const [bottom, top] = [Math.min(low, ...told), Math.max(high, ...told)]
  // failures begin at none and are small numbers
  if (data.value?.[of].axis === 'failures') return [0, Math.max(top * 1.08, 0.1)]
  const margin = Math.max((top - bottom) * 0.08, 0.5)
  return [Math.floor(bottom - margin), Math.ceil(top + margin)]
}

const option = computed<EChartsOption>(() => {
  const c = colours.value
  const found = data.value
  if (!found) return {}
  const colour = (spot: Spot): string => (spot.on_front ? c.petrol : c.quiet)
  const whiskers = (params: CustomSeriesRenderItemParams, api: CustomSeriesRenderItemAPI) => {
    const spot = spots.value[params.dataIndex]
    if (!spot) return { type: 'group' as const, children: [] }
    const line = (from: number[], to: number[]) => ({
      type: 'line' as const,
      shape: { x1: from[0]!, y1: from[1]!, x2: to[0]!, y2: to[1]! },
      style: { stroke: colour(spot), lineWidth: 1, opacity: spot.on_front ? 0.9 : 0.45 },
    })
    const children = []
    if (spot.x.low != null && spot.x.high != null)
      children.push(line(api.coord([spot.x.low, spot.y.value]), api.coord([spot.x.high, spot.y.value])))
    if (spot.y.low != null && spot.y.high != null)
      children.push(line(api.coord([spot.x.value, spot.y.low]), api.coord([spot.x.value, spot.y.high])))
    return { type: 'group' as const, children }
  }
  const told = (of: 'x' | 'y', spot: Spot): string =>
    `${found[of].name}: ${found[of].axis === 'failures' ? number(spot[of].value, 2) : signed(spot[of].value, 1)} ${found[of].unit}`
  const axis = (of: 'x' | 'y') => ({
    type: 'value' as const,
    min: span(of)[0],
    max: span(of)[1],
    name: `${found[of].name}, ${found[of].unit} (${found[of].more_is_better ? 'more is better' : 'less is better'})`,
    nameLocation: 'middle' as const,
    nameGap: of === 'x' ? 28 : 44,
    // whole numbers are written there
    minInterval: found[of].axis === 'failures' ? 0 : 1,
    ...chartStyle.value.axis,
    axisLabel: {
      ...chartStyle.value.axis.axisLabel,
      formatter: (value: number) => (found[of].axis === 'failures' ? number(value, 1) : signed(value, 0)),
    },
  })
  return {
    animation: false,
    textStyle: chartStyle.value.text,
    grid: { left: 28, right: 120, top: 16, bottom: 26, containLabel: true },
    tooltip: {
      trigger: 'item',
      ...chartStyle.value.tooltip,
      formatter: (item: unknown) => {
        const spot = spots.value[(item as { dataIndex: number }).dataIndex]
        if (!spot) return ''
        return `${spot.title}<br>${told('x', spot)}<br>${told('y', spot)}<br>beaten by none, ${number(100 * spot.chance, 0)} % sure`
      },
    },
    xAxis: axis('x'),
    yAxis: axis('y'),
    series: [
      {
        type: 'line',
        silent: true,
        showSymbol: false,
        step: 'end',
        data: [],
        markLine: {
          silent: true,
          symbol: 'none',
          lineStyle: { color: c.quiet, type: 'dashed', width: 1 },
          label: { formatter: 'stock', color: c.quiet, position: 'insideEndTop' },
          data: [
            ...(found.x.axis === 'failures' ? [] : [{ xAxis: 0 }]),
            ...(found.y.axis === 'failures' ? [] : [{ yAxis: 0 }]),
            ...near.value.map((target) => ({
              ...(target.axis === 'y' ? { yAxis: target.value } : { xAxis: target.value }),
              lineStyle: { color: c.ochre, type: 'solid' as const },
              label: { formatter: `${target.name}, as reported`, color: c.ochre },
            })),
          ],
        },
        markArea: {
          silent: true,
          itemStyle: { color: c.orange, opacity: 0.07 },
          label: { color: c.orange, position: 'insideBottomLeft', fontSize: 12 },
          data: found.limits.map((limit) => [
            {
              name: `less than ${limit.words.text}`.replace('less than at least', 'below'),
              ...(limit.axis === 'y' ? { yAxis: span('y')[0] } : { xAxis: span('x')[0] }),
            },
            limit.axis === 'y' ? { yAxis: limit.value } : { xAxis: limit.value },
          ]) as never,
        },
      },
      { type: 'custom', silent: true, renderItem: whiskers, data: spots.value.map((spot) => [spot.x.value, spot.y.value]) },
      {
        type: 'scatter',
        symbol: 'diamond',
        data: spots.value.map((spot) => ({
          value: [spot.x.value, spot.y.value],
          symbolSize: spot.setting_id === found.best_id ? 15 : 10,
          itemStyle: {
            color: spot.setting_id === found.stock_id ? c.sheet : colour(spot),
            borderColor: spot.setting_id === found.best_id ? c.ink : colour(spot),
            borderWidth: spot.setting_id === found.best_id ? 2.5 : 1.2,
            opacity: spot.on_front || spot.setting_id === found.best_id ? 1 : 0.55,
          },
          label: {
            show: spot.on_front || spot.setting_id === found.best_id,
            formatter: spot.setting_id === found.best_id ? `${spot.label}: best by the goal` : spot.label,
            position: 'right' as const,
            color: c.ink,
            fontSize: 12,
          },
        })),
        labelLayout: { hideOverlap: true, moveOverlap: 'shiftY' },
      },
    ],
  }
})
function open(item: unknown): void {
  const spot = spots.value[(item as { dataIndex: number }).dataIndex]
  if (spot) void router.push({ name: 'Climb', params: { id: campaign.value.id }, query: { setting: spot.setting_id } })
}
</script>

<template>
  <section aria-label="Trade-off" data-test="trade-off">
    <div class="head">
      <h2>Trade-off</h2>
      <ChoiceField v-model="y" label="Upwards" :options="choices" />
      <ChoiceField v-model="x" label="Across" :options="choices" />
    </div>
    <LoadState :pending="isPending" :error="error" what="The trade-off" @again="refetch">
      <p v-if="spots.length < 2" class="quiet">Nothing to draw yet: stock and one more setting need a result and this figure.</p>
      <DataChart
        v-else
        name="Trade-off"
        :says="says"
        :option="option"
        :height="380"
        :headers="headers"
        :rows="rows"
        @chosen="open"
      />
    </LoadState>
  </section>
</template>

<style scoped>
section {
  margin-top: 24px;
}
.head {
  display: grid;
  grid-template-columns: 1fr 260px 260px;
  gap: 16px;
  align-items: end;
  margin-bottom: 8px;
}
@media (max-width: 1000px) {
  .head {
    grid-template-columns: 1fr 1fr;
  }
  .head h2 {
    grid-column: 1 / -1;
  }
}
@media (max-width: 620px) {
  .head {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
