/** A new campaign while it is being described: kept by the browser until it is created, so that nothing typed is lost. */
import { useStorage } from '@vueuse/core'

import type { Campaign, CampaignIn } from '../../api/campaigns'
import type { Problem, Schemas } from '../../api/client'
import type { BuildIn } from '../../api/rigs'
import type { Starter } from '../../api/starters'
import {
  asWorkloadIn,
  emptyBuild,
  emptyWorkload,
  type KnobDraft,
  knobLike,
  type WorkloadDraft,
  withoutEmptyParts,
  workloadLike,
} from './drafts'

export const NEW_RIG = 0
/** A new rig of the simulator's: no hardware needed. */
export const SIMULATOR = -1

export interface NewDraft {
  /** what it began with, so that it is marked */
  start: string
  name: string
  goal: CampaignIn['goal']
  aim: string
  rigId: number
  rigName: string
  kind: string
  seed: number | null
  build: Required<BuildIn>
  knobs: KnobDraft[]
  workloads: WorkloadDraft[]
  workloadIds: number[]
}

export const freshDraft = (): NewDraft => ({
  start: '',
  name: '',
  goal: 'speed',
  aim: '',
  rigId: NEW_RIG,
  rigName: '',
  kind: 'dome',
  seed: 1,
  build: emptyBuild(),
  knobs: [],
  workloads: [emptyWorkload()],
  workloadIds: [],
})

export const useNewDraft = () => useStorage<NewDraft>('trelvo-new-campaign', freshDraft(), undefined, { mergeDefaults: true })

/** Begins with what is usual for a sort of part; the names typed so far stay. */
export function beginWith(draft: NewDraft, starter: Starter): void {
  draft.start = starter.key
  draft.goal = starter.goal as CampaignIn['goal']
  draft.knobs = starter.knobs.map(knobLike)
  draft.workloads = starter.workloads.map(workloadLike)
  draft.workloadIds = []
  if (draft.rigId === SIMULATOR) draft.rigId = NEW_RIG
  if (draft.build.parts.every((part) => !part.name)) {
    draft.build.parts = starter.parts.map((role) => ({ role, name: '', specimen: '' }))
  }
}

/** Begins with a rig of the simulator's: its knobs and its workloads. */
export function beginWithSimulator(draft: NewDraft, kind: Schemas['SimulatorKind']): void {
  draft.start = 'simulator'
  draft.rigId = SIMULATOR
  draft.kind = kind.key
  draft.knobs = kind.knobs.map(knobLike)
  draft.workloads = kind.workloads.map(workloadLike)
  draft.workloadIds = []
  draft.rigName ||= `${kind.name}, specimen ${draft.seed ?? ''}`.trim()
  draft.build = {
    ...emptyBuild(),
    parts: kind.parts.map((role) => ({ role, name: 'simulator', specimen: `number ${draft.seed ?? ''}`.trim() })),
  }
}

/** Begins like an earlier campaign: its rig, goal, knobs that are turned, and workloads. */
export function beginLike(draft: NewDraft, campaign: Campaign): void {
  draft.start = `like ${campaign.id}`
  draft.goal = campaign.goal as CampaignIn['goal']
  draft.aim = campaign.aim
  draft.rigId = campaign.rig_id
  draft.knobs = campaign.knobs.filter((knob) => !knob.retired).map(knobLike)
  draft.workloads = []
  draft.workloadIds = campaign.workloads.map((workload) => workload.id)
}

/** The steps of the description, and which fields each holds. */
export const STEPS = [
  { key: 'what', name: 'What is tuned', holds: ['name', 'goal', 'aim'] },
  { key: 'rig', name: 'Rig', holds: ['rig', 'rig_id'] },
  { key: 'knobs', name: 'Knobs', holds: ['knobs'] },
  { key: 'workloads', name: 'Workloads', holds: ['workloads', 'workload_ids'] },
] as const
export type StepKey = (typeof STEPS)[number]['key']

/** The step that holds the field a problem names; the first where none does. */
export const stepOf = (problem: Problem): StepKey =>
  STEPS.find((step) => step.holds.some((field) => problem.where === field || problem.where.startsWith(`${field}.`)))?.key ??
  'what'

/** A field left empty that must hold a value, named before anything is sent. */
export function gaps(draft: NewDraft): Problem[] {
  const missing = (where: string, what: string, value: unknown): Problem[] =>
    value === null || value === '' ? [{ where, what: `${what}: please fill this in.`, todo: '' }] : []
  return [
    ...missing('name', 'Name of the campaign', draft.name),
    ...(draft.rigId <= 0 ? missing('rig.name', 'Name of the rig', draft.rigName) : []),
    ...draft.knobs.flatMap((knob, i) =>
      (['name', 'key', 'stock', 'step', 'low', 'high'] as const).flatMap((field) =>
        missing(`knobs.${i}.${field}`, `Knob ${i + 1}, ${field === 'step' ? 'smallest step' : field}`, knob[field]),
      ),
    ),
    ...draft.workloads.flatMap((workload, i) =>
      (['name', 'unit', 'minutes'] as const).flatMap((field) =>
        missing(
          `workloads.${i}.${field}`,
          `Workload ${i + 1}, ${field === 'minutes' ? 'minutes a run' : field}`,
          workload[field],
        ),
      ),
    ),
  ]
}

/** The campaign as it is sent. */
export const asCampaignIn = (draft: NewDraft): CampaignIn => ({
  name: draft.name,
  goal: draft.goal,
  aim: draft.aim,
  rig_id: draft.rigId > 0 ? draft.rigId : null,
  rig:
    draft.rigId > 0
      ? null
      : {
          name: draft.rigName,
          build: withoutEmptyParts(draft.build),
          simulator: draft.rigId === SIMULATOR ? draft.kind : '',
          simulator_seed: draft.rigId === SIMULATOR ? (draft.seed ?? 0) : 0,
        },
  knobs: draft.knobs as CampaignIn['knobs'],
  workloads: draft.workloads.map(asWorkloadIn),
  workload_ids: draft.workloadIds,
})
