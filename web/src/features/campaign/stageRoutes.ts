import type { Stage } from '../../api/campaigns'

/** Stages that have a page in this version, with the key that opens each. */
export const stageKeys: Partial<Record<Stage['name'], string>> = {
  Prepare: '1',
  Baseline: '2',
  Climb: '3',
  Prove: '4',
  Compare: '5',
  Keep: '6',
}
