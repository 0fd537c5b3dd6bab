import { computed, type ComputedRef, type MaybeRefOrGetter, toValue } from 'vue'

import { useLiveList, useQueue } from '../api/live'
import { counted } from '../ui/words/format'

/** What goes on in a campaign at this moment, as a sentence; empty where nothing does. */
export function useUnderWay(campaignId: MaybeRefOrGetter<number>): ComputedRef<string> {
  const { data: queue } = useQueue(campaignId)
  const { data: going } = useLiveList()
  return computed(() => {
    const items = queue.value?.items ?? []
    const left = items.filter((item) => item.state === 'running' || (item.state === 'waiting' && !queue.value?.paused)).length
    if (left) return `${counted(left, 'run')} of the queue still to come.`
    const live = going.value?.find((one) => one.campaign_id === toValue(campaignId) && one.standing.state === 'open')
    return live ? `${live.workload_name} at ${live.setting_title} is running.` : ''
  })
}
