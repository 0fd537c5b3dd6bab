/** How the proof of a kept setting stands, in words: the same in the list and on its card. */
import type { KeptSetting } from '../../api/keep'

export const PROOF_WORDS: Record<KeptSetting['proof'], string> = {
  fresh: 'proof fresh',
  'not shown': 'not shown to be stable yet',
  stale: 'proof stale',
  'failed in use': 'failed in use',
}
