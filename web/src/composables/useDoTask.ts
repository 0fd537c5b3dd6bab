import { type RouteLocationRaw, useRouter } from 'vue-router'

import type { Campaign } from '../api/campaigns'
import type { Task } from '../api/goal'
import { bringIntoView } from './bringIntoView'
import { useAgreed } from './useAgreed'
import { useBeginLine, useStageCampaign } from './useStageCampaign'
import { useTryOut } from './useTryOut'

/** What the button of a task says. */
export function taskButton(task: Task, campaign: Campaign): string {
  if (task.act === 'describe') return 'Describe'
  if (task.act === 'answer') return 'Answer'
  if (task.act === 'keep') return 'Keep it'
  if (task.act === 'stop') return 'See why'
  return campaign.simulator ? 'Start' : 'Log it'
}

/** Does what a task says: begins the run on the simulator, opens its line for a real bench, or goes where it is done. */
export function useDoTask() {
  const campaign = useStageCampaign()
  const router = useRouter()
  const tryOut = useTryOut(campaign)
  const beginLine = useBeginLine()
  const agreed = useAgreed(() => campaign.value.id)

  return async (task: Task): Promise<void> => {
    const params = { id: campaign.value.id }
    // the page may be open already: what is to be done on it comes into view and takes the focus
    const show = async (to: RouteLocationRaw, id: string): Promise<void> => {
      await router.push(to)
      await bringIntoView(id)
    }
    if (task.act === 'describe') return show({ name: 'Prepare', params }, campaign.value.knobs.length ? 'workloads' : 'knobs')
    if (task.act === 'answer' && task.stage === 'Keep') return show({ name: 'Keep', params }, 'failure-in-use')
    if (task.act === 'answer') return show({ name: 'run', params: { id: task.run_id } }, 'how-it-ended')
    if (task.act === 'stop' && task.stage === 'Prepare') return show({ name: 'Prepare', params, hash: '#goal' }, 'goal')
    if (task.act === 'keep' || task.act === 'stop') {
      const query = task.setting_id ? { setting: task.setting_id } : {}
      return show({ name: 'Keep', params, query }, task.act === 'keep' ? 'keep-form' : 'may-be-kept')
    }
    if (!campaign.value.simulator && task.line) {
      if (!(await agreed(Object.keys(task.values ?? {})))) return
      return beginLine(task.line)
    }
    await tryOut({
      settingId: task.setting_id,
      values: task.values ?? {},
      workloadId: task.workload_id ?? campaign.value.workloads[0]?.id,
      workloadIds: task.workload_ids,
      minutes: task.act === 'climb' || task.act === 'prove' ? task.minutes : null,
      repeats: task.runs,
      knob: task.knob ?? undefined,
    })
  }
}
