import type { FigureWords } from '../../api/registry'
/** What is being typed about a run. Conditions of the last run stay, since the next one is usually made under the same. */
import type { FigureIn, Instrument } from '../../api/instruments'
import type { Outcome, RunIn } from '../../api/runs'

/** A further figure, of any quantity, part and statistic. */
export interface MoreDraft {
  quantity: FigureIn['quantity']
  part: FigureIn['part']
  statistic: FigureIn['statistic']
  by: string
  value: number | null
}

export interface RunDraft {
  settingId: number | undefined
  workloadId: number | undefined
  outcome: Outcome
  value: number | null
  minutes: number | null
  /** Figures by their word. */
  read: Record<string, number | null>
  /** Who read the watts: an instrument of the rig (its number), or a measuring point. */
  powerBy: string
  more: MoreDraft[]
  fan: string
  note: string
}

export const emptyRun = (): RunDraft => ({
  settingId: undefined,
  workloadId: undefined,
  outcome: 'completed',
  value: null,
  minutes: null,
  read: {},
  powerBy: '',
  more: [],
  fan: '',
  note: '',
})

/** Conditions that stay from run to run. */
const CONDITIONS = ['room_c']

/** The next run's draft: conditions and place kept, results emptied. */
export const nextRun = (draft: RunDraft): RunDraft => ({
  ...emptyRun(),
  settingId: draft.settingId,
  workloadId: draft.workloadId,
  powerBy: draft.powerBy,
  fan: draft.fan,
  read: Object.fromEntries(Object.entries(draft.read).filter(([word]) => CONDITIONS.includes(word))),
  more: draft.more.map((one) => ({ ...one, value: null })),
})

const readBy = (by: string): Pick<FigureIn, 'instrument_id' | 'point'> =>
  /^\d+$/.test(by)
    ? { instrument_id: Number(by), point: 'unknown' }
    : { instrument_id: null, point: (by || 'unknown') as FigureIn['point'] }

export function asRunIn(draft: RunDraft, figures: FigureWords[]): RunIn {
  const named = figures.flatMap((one): FigureIn[] => {
    const value = draft.read[one.word]
    if (value === null || value === undefined) return []
    const by = one.word === 'power_w' ? readBy(draft.powerBy) : readBy('unknown')
    return [{ quantity: one.quantity, part: one.part, statistic: one.statistic, value, ...by }]
  })
  const more = draft.more.flatMap((one): FigureIn[] =>
    one.value === null
      ? []
      : [{ quantity: one.quantity, part: one.part, statistic: one.statistic, value: one.value, ...readBy(one.by) }],
  )
  return {
    setting_id: draft.settingId ?? 0,
    workload_id: draft.workloadId ?? 0,
    outcome: draft.outcome,
    value: draft.value,
    duration_s: draft.minutes === null ? null : draft.minutes * 60,
    fan: draft.fan,
    note: draft.note,
    sure: false,
    figures: [...named, ...more],
  }
}

const POINTS = [
  { value: 'software', label: 'the part’s own report', kind: 'own report' },
  { value: 'cables', label: 'clamp on the cables', kind: 'clamp' },
  { value: 'wall', label: 'meter at the wall', kind: 'wall meter' },
]

/** Who can have read a quantity: the rig's instruments for it, then the usual points of power that the rig has no instrument at yet. */
export function readers(instruments: Instrument[], quantity: string): { value: string; label: string }[] {
  const own = instruments.filter((one) => one.quantity === quantity)
  const kinds = new Set(own.map((one) => one.kind as string))
  const points = quantity === 'power' ? POINTS.filter((point) => !kinds.has(point.kind)) : []
  return [
    ...own.map((one) => ({ value: String(one.id), label: one.trust === 'trusted' ? one.name : `${one.name} (${one.trust})` })),
    ...points.map(({ value, label }) => ({ value, label })),
    { value: 'unknown', label: 'not noted' },
  ]
}
