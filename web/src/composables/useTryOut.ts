import { useQueryClient } from '@tanstack/vue-query'
import { message } from 'ant-design-vue'
import type { Ref } from 'vue'
import { useRouter } from 'vue-router'

import type { Campaign } from '../api/campaigns'
import { Refusal } from '../api/client'
import { useLineUp, useStartLive } from '../api/live'
import { refresh } from '../api/refresh'
import { useAddSetting } from '../api/settings'
import { speed } from '../features/live/speed'
import { useAgreed } from './useAgreed'
import { useOpenLive, useOpenRunForm } from './useStageCampaign'

/** What is to be run: on a setting that is there, or at values that have no setting yet; minutes are left out where it ends by itself. */
export interface TryOut {
  settingId?: number | null
  values: Record<string, number>
  workloadId?: number | null
  /** several at once, one after the other */
  workloadIds?: number[]
  minutes?: number | null
  repeats?: number
  /** the knob whose climb it belongs to: where the way back leads */
  knob?: string
}

/**
 * Makes the setting where it is missing, then begins: at once on the simulator, or with a line in the log for a real bench.
 * What wants a typed confirmation first opens its form instead.
 */
export function useTryOut(campaign: Ref<Campaign>) {
  const router = useRouter()
  const queries = useQueryClient()
  const { mutateAsync: addSetting } = useAddSetting('when looked at')
  const { mutateAsync: start } = useStartLive()
  const { mutateAsync: lineUp } = useLineUp()
  const openLive = useOpenLive()
  const openForm = useOpenRunForm()
  const agreed = useAgreed(() => campaign.value.id)

  async function onSimulator(settingId: number, workloadId: number, what: TryOut): Promise<void> {
    const campaignId = campaign.value.id
    const body = { speed: speed.value ?? 60, confirmation: '' }
    const workloads = what.workloadIds?.length ? what.workloadIds : [workloadId]
    const repeats = what.repeats ?? 1
    if (repeats * workloads.length > 1) {
      await lineUp({
        campaignId,
        body: { ...body, setting_ids: [settingId], workload_ids: workloads, repeats, interleave: false },
      })
      void message.success(`${repeats * workloads.length} runs lined up.`)
      await router.push({ name: 'Climb', params: { id: campaignId } })
      return
    }
    const live = await start({
      campaignId,
      body: { ...body, setting_id: settingId, workload_id: workloadId, minutes: what.minutes ?? null },
    })
    await router.push({ name: 'run', params: { id: live.run_id }, query: { knob: what.knob } })
  }

  return async (what: TryOut): Promise<void> => {
    if (!(await agreed(Object.keys(what.values)))) return
    let settingId = what.settingId ?? undefined
    if (!settingId) {
      settingId = (await addSetting({ campaignId: campaign.value.id, body: { values: what.values, note: '' } })).id
      void message.success('A new setting.')
    }
    const preset = {
      settingId,
      workloadId: what.workloadId ?? undefined,
      repeats: what.repeats,
      minutes: what.minutes ?? undefined,
    }
    const byForm = (): void => {
      if (!what.settingId) void refresh(queries)
      ;(campaign.value.simulator ? openLive : openForm)(preset)
    }
    if (!campaign.value.simulator || !what.workloadId) return byForm()
    try {
      await onSimulator(settingId, what.workloadId, what)
    } catch (trouble) {
      if (!(trouble instanceof Refusal) || !trouble.problems.some((problem) => problem.where === 'confirmation')) throw trouble
      byForm()
    }
  }
}
