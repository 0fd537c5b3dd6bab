/** A registry as the server would answer it, as far as the tests of the screens need it. */
import { type OutcomeFacts, registry } from '../api/registry'

const ended = (outcome: OutcomeFacts['outcome'], key: string, short: string, failed = false): OutcomeFacts => ({
  outcome,
  key,
  short,
  meaning: `${short} in other words`,
  failed,
  steps_back: 0,
  line_word: key,
  said_as: [],
})
const shown = (quantity: string, unit: string, decimals: number, live: number, own_scale = false) => ({
  quantity,
  unit,
  units: [unit],
  decimals,
  low: null,
  high: null,
  live,
  own_scale,
})

export function declare(): void {
  registry.value = {
    ...registry.value,
    outcomes: [
      ended('completed', '1', 'Completed'),
      ended('odd numbers', '2', 'Odd numbers', true),
      ended('program closed', '3', 'Program closed', true),
      ended('machine down', '4', 'Machine down', true),
      ended('no start', '5', 'No start', true),
      ended('stopped by a guard rail', '6', 'Guard rail'),
      ended('stopped by hand', '7', 'Stopped by hand'),
      ended('contact lost', '8', 'Contact lost'),
    ],
    live: [
      shown('core clock', 'MHz', 0, 1, true),
      shown('temperature', '°C', 1, 2),
      shown('power', 'W', 1, 3, true),
      shown('voltage', 'V', 3, 4),
      shown('frame time', 'ms', 2, 5),
      shown('noise', 'dB(A)', 1, 99),
    ],
    limits: [
      { kind: 'temperature', quantity: 'temperature', unit: '°C', means: '' },
      { kind: 'power', quantity: 'power', unit: 'W', means: '' },
      { kind: 'hours', quantity: null, unit: 'h', means: '' },
    ],
  }
}
