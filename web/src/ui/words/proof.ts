/** How the proof of a kept setting stands, in words: the same in the list and on its card. */
import type { Keeper } from '../../api/keep'

export const PROOF_WORDS: Record<Keeper['proof'], string> = {
  fresh: 'proof fresh',
  'not shown': 'not shown to be stable yet',
  stale: 'proof stale',
  'failed in use': 'failed in use',
}
