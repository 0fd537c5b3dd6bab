import type { EntryBody } from '../api/journal'

/** What happens to a rig outside runs. */
export const journalKinds: { value: NonNullable<EntryBody['kind']>; label: string }[] = [
  { value: 'driver', label: 'Driver' },
  { value: 'firmware', label: 'Firmware' },
  { value: 'part', label: 'Part' },
  { value: 'dust', label: 'Dust and cleaning' },
  { value: 'move', label: 'Moved' },
  { value: 'season', label: 'Season' },
  { value: 'crash', label: 'Crash in use' },
  { value: 'thought', label: 'Thought' },
]
