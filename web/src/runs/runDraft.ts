/** What is being typed about a run. Conditions of the last run stay, since the next one is usually made under the same. */
import type { Outcome, RunIn } from '../api/runs'

export interface RunDraft {
  settingId: number | undefined
  workloadId: number | undefined
  outcome: Outcome
  value: number | null
  low_1_fps: number | null
  low_01_fps: number | null
  power_w: number | null
  power_point: RunIn['power_point']
  temp_max_c: number | null
  room_c: number | null
  core_mhz: number | null
  memory_mhz: number | null
  voltage_v: number | null
  minutes: number | null
  fan: string
  note: string
}

export const emptyRun = (): RunDraft => ({
  settingId: undefined, workloadId: undefined, outcome: 'completed', value: null, low_1_fps: null, low_01_fps: null,
  power_w: null, power_point: 'software', temp_max_c: null, room_c: null, core_mhz: null, memory_mhz: null,
  voltage_v: null, minutes: null, fan: '', note: '',
})

/** The next run's draft: conditions and place kept, results emptied. */
export const nextRun = (draft: RunDraft): RunDraft => ({
  ...emptyRun(), settingId: draft.settingId, workloadId: draft.workloadId, power_point: draft.power_point,
  room_c: draft.room_c, fan: draft.fan,
})

export function asRunIn(draft: RunDraft): RunIn {
  const { settingId, workloadId, minutes, ...figures } = draft
  return {
    ...figures,
    setting_id: settingId ?? 0,
    workload_id: workloadId ?? 0,
    duration_s: minutes === null ? null : minutes * 60,
    power_point: draft.power_w === null ? 'unknown' : draft.power_point,
  }
}

export const points: { value: RunIn['power_point']; label: string }[] = [
  { value: 'software', label: 'the part’s own report' },
  { value: 'cables', label: 'clamp on the cables' },
  { value: 'wall', label: 'meter at the wall' },
  { value: 'unknown', label: 'not known' },
]
