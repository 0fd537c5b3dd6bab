/** What is being typed for a new campaign, before it is sent. */
import type { Campaign, Workload } from '../../api/campaigns'
import type { Schemas } from '../../api/client'
import type { Build, BuildIn } from '../../api/rigs'

export interface KnobDraft {
  key: string
  name: string
  unit: string
  stock: number | null
  step: number | null
  low: number | null
  high: number | null
  away: 1 | -1
  role?: Schemas['KnobIO']['role']
  part: Schemas['KnobIO']['part']
}

/** A named option of a workload; without a value it is not there. */
export interface OptionDraft {
  name: string
  value: string
}

export interface WorkloadDraft {
  name: string
  measure: Campaign['workloads'][number]['measure']
  unit: string
  higher_is_better: boolean
  options: OptionDraft[]
  minutes: number | null
  cap_fps: number | null
  kind: Workload['kind']
  parts: Workload['parts']
  techniques: Workload['techniques']
}

export const emptyKnob = (): KnobDraft => ({
  key: '',
  name: '',
  unit: 'MHz',
  stock: 0,
  step: null,
  low: null,
  high: null,
  away: 1,
  part: 'tuned part',
})

/** A knob of a campaign, or a usual one, as a draft: what a knob is described by, and nothing else. */
export const knobLike = (knob: Schemas['KnobIO'] | Schemas['Knob']): KnobDraft => ({
  key: knob.key,
  name: knob.name,
  unit: knob.unit ?? '',
  stock: knob.stock,
  step: knob.step,
  low: knob.low,
  high: knob.high,
  away: knob.away as 1 | -1,
  role: knob.role ?? undefined,
  part: knob.part ?? 'tuned part',
})

/** What of a knob can be changed after something was run with it. */
export const asKnobChange = ({ name, role, part, step, low, high, away }: KnobDraft): Schemas['KnobChange'] => ({
  name,
  role,
  part,
  step,
  low,
  high,
  away,
})

export const emptyWorkload = (): WorkloadDraft => ({
  name: '',
  measure: 'frame rate',
  unit: 'fps',
  higher_is_better: true,
  options: [
    { name: 'resolution', value: '' },
    { name: 'preset', value: '' },
  ],
  minutes: null,
  cap_fps: null,
  kind: 'title',
  parts: [],
  techniques: [],
})

/** What a workload can be, touch and use, for the breadth of a proof. */
export const loadKinds: Workload['kind'][] = ['stress test', 'benchmark', 'title', 'everyday']
export const loadParts: Workload['parts'] = ['graphics', 'processor', 'memory', 'storage']
export const loadTechniques: Workload['techniques'] = [
  'plain drawing',
  'ray tracing',
  'upscaling',
  'frame generation',
  'video',
  'computing',
]

export const emptyBuild = (): Required<BuildIn> => ({
  parts: [
    { role: 'Graphics card', name: '', specimen: '' },
    { role: 'Processor', name: '', specimen: '' },
  ],
  cooling: '',
  enclosure: '',
  driver: '',
  firmware: '',
  system: '',
  note: '',
})

/** The next build starts from the present one: most of it stays. */
export const buildLike = (build: Build): Required<BuildIn> => ({
  parts: (build.parts ?? []).map((part) => ({ role: part.role, name: part.name, specimen: part.specimen })),
  cooling: build.cooling,
  enclosure: build.enclosure,
  driver: build.driver,
  firmware: build.firmware,
  system: build.system,
  note: '',
})

/** Parts with neither name nor specimen are lines left empty. */
export const withoutEmptyParts = (build: Required<BuildIn>): BuildIn => ({
  ...build,
  parts: build.parts.filter((part) => part.name.trim() !== ''),
})

/** A workload as it is sent: options that have a value, by name. */
export const asWorkloadIn = (draft: WorkloadDraft): Schemas['WorkloadIn'] => ({
  name: draft.name,
  measure: draft.measure as Schemas['WorkloadIn']['measure'],
  unit: draft.unit,
  higher_is_better: draft.higher_is_better,
  cap_fps: draft.cap_fps,
  kind: draft.kind,
  parts: draft.parts,
  techniques: draft.techniques,
  // what was left empty is refused by the server, which says so at the field
  minutes: draft.minutes as number,
  options: Object.fromEntries(draft.options.filter((one) => one.value.trim()).map((one) => [one.name.trim(), one.value.trim()])),
})

/** What the server knows of a workload, as a draft to begin with. */
export const workloadLike = (workload: Schemas['WorkloadIn']): WorkloadDraft => ({
  ...emptyWorkload(),
  ...workload,
  cap_fps: workload.cap_fps ?? null,
  parts: workload.parts ?? [],
  techniques: workload.techniques ?? [],
  options: Object.entries(workload.options ?? {}).map(([name, value]) => ({ name, value })),
})
