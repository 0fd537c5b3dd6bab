import type { KeeperUse } from '../../api/keep'

/** What a setting is kept for. */
export const keeperUses: { value: NonNullable<KeeperUse>; label: string }[] = [
  { value: 'every day', label: 'Every day' },
  { value: 'bench', label: 'Bench' },
  { value: 'quiet', label: 'Quiet' },
  { value: 'summer', label: 'Summer' },
  { value: 'travel', label: 'Travel' },
  { value: 'record', label: 'Record' },
]
