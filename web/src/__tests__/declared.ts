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
      ended('artifacts', '2', 'Artifacts', true),
      ended('program crash', '3', 'Program crash', true),
      ended('system crash', '4', 'System crash', true),
      ended('no start', '5', 'No start', true),
      ended('safety limit', '6', 'Safety limit'),
      ended('stopped by hand', '7', 'Stopped by hand'),
      ended('connection lost', '8', 'Connection lost'),
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
