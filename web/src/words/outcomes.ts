/** The outcomes of a run in the order of their weight, with the key that chooses each in the form. */
import type { Outcome } from '../api/runs'

export interface OutcomeWords {
  outcome: Outcome
  key: string
  short: string
  meaning: string
  failed: boolean
}

export const outcomes: OutcomeWords[] = [
  { outcome: 'completed', key: '1', short: 'Completed', meaning: 'ran to the end, nothing unusual', failed: false },
  {
    outcome: 'odd numbers',
    key: '2',
    short: 'Odd numbers',
    meaning: 'wrong results, speckles, stutter: just over the edge',
    failed: true,
  },
  {
    outcome: 'program closed',
    key: '3',
    short: 'Program closed',
    meaning: 'only the program ended: close to the edge',
    failed: true,
  },
  { outcome: 'machine down', key: '4', short: 'Machine down', meaning: 'hung or restarted: well over the edge', failed: true },
  { outcome: 'no start', key: '5', short: 'No start', meaning: 'black screen or no start: far over the edge', failed: true },
  {
    outcome: 'stopped by a guard rail',
    key: '6',
    short: 'Guard rail',
    meaning: 'a limit stopped the run; says nothing about stability',
    failed: false,
  },
  {
    outcome: 'stopped by hand',
    key: '7',
    short: 'Stopped by hand',
    meaning: 'someone ended it before its time; says nothing about stability',
    failed: false,
  },
  {
    outcome: 'contact lost',
    key: '8',
    short: 'Contact lost',
    meaning: 'the log breaks off; what happened is not known yet',
    failed: false,
  },
]

export const wordsOf = (outcome: Outcome): OutcomeWords => outcomes.find((entry) => entry.outcome === outcome) ?? outcomes[0]!
