import type { KeptSettingUse } from '../../api/keep'

/** What a setting is kept for. */
export const keptSettingUses: { value: NonNullable<KeptSettingUse>; label: string }[] = [
  { value: 'every day', label: 'Every day' },
  { value: 'bench', label: 'Bench' },
  { value: 'quiet', label: 'Quiet' },
  { value: 'summer', label: 'Summer' },
  { value: 'travel', label: 'Travel' },
  { value: 'record', label: 'Record' },
]
