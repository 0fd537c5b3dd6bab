/** What is being typed for a new campaign, before it is sent. */
import type { Campaign, Workload } from '../api/campaigns'
import type { Fitting, FittingIn } from '../api/rigs'

export interface KnobDraft {
  key: string
  name: string
  unit: string
  stock: number | null
  step: number | null
  low: number | null
  high: number | null
  away: 1 | -1
}

export interface WorkloadDraft {
  name: string
  measure: Campaign['workloads'][number]['measure']
  unit: string
  higher_is_better: boolean
  options: string
  minutes: number | null
  cap_fps: number | null
  kind: Workload['kind']
  parts: Workload['parts']
  techniques: Workload['techniques']
}

export const emptyKnob = (): KnobDraft => ({ key: '', name: '', unit: 'MHz', stock: 0, step: null, low: null, high: null, away: 1 })

/** Starting points; every number is there to be changed to what the machine at hand allows. */
export const usualKnobs: Record<string, KnobDraft> = {
  'Power limit': { key: 'power', name: 'Power limit', unit: '%', stock: 100, step: 1, low: 60, high: 120, away: 1 },
  'Core clock offset': { key: 'core', name: 'Core clock', unit: 'MHz', stock: 0, step: 15, low: -300, high: 300, away: 1 },
  'Memory clock offset': { key: 'memory', name: 'Memory clock', unit: 'MHz', stock: 0, step: 50, low: 0, high: 1500, away: 1 },
  'Voltage offset': { key: 'voltage', name: 'Voltage', unit: 'mV', stock: 0, step: 5, low: -150, high: 0, away: -1 },
  'Multiplier': { key: 'multiplier', name: 'Multiplier', unit: 'x', stock: null, step: 1, low: null, high: null, away: 1 },
  'Bus clock': { key: 'bus', name: 'Bus clock', unit: 'MHz', stock: null, step: 1, low: null, high: null, away: 1 },
}

export const emptyWorkload = (): WorkloadDraft => ({
  name: '', measure: 'frame rate', unit: 'fps', higher_is_better: true, options: '', minutes: null, cap_fps: null,
  kind: 'title', parts: [], techniques: [],
})

/** What a workload can be, touch and use, for the breadth of a proof. */
export const loadKinds: Workload['kind'][] = ['stress test', 'benchmark', 'title', 'everyday']
export const loadParts: Workload['parts'] = ['graphics', 'processor', 'memory', 'storage']
export const loadTechniques: Workload['techniques'] = ['plain drawing', 'ray tracing', 'upscaling', 'frame generation', 'video', 'computing']

export const emptyFitting = (): Required<FittingIn> => ({
  parts: [{ role: 'Graphics card', name: '', specimen: '' }, { role: 'Processor', name: '', specimen: '' }],
  cooling: '', enclosure: '', driver: '', firmware: '', system: '', note: '',
})

/** The next fitting starts from the present one: most of it stays. */
export const fittingLike = (fitting: Fitting): Required<FittingIn> => ({
  parts: fitting.parts.map((part) => ({ role: part.role, name: part.name, specimen: part.specimen })),
  cooling: fitting.cooling, enclosure: fitting.enclosure, driver: fitting.driver, firmware: fitting.firmware,
  system: fitting.system, note: '',
})

/** Parts with neither name nor specimen are lines left empty. */
export const withoutEmptyParts = (fitting: Required<FittingIn>): FittingIn => ({
  ...fitting,
  parts: fitting.parts.filter((part) => part.name.trim() !== ''),
})
