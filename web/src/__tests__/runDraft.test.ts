import type { FigureWords } from '../api/registry'
import { describe, expect, it } from 'vitest'

import type { Instrument } from '../api/instruments'
import { asRunIn, emptyRun, nextRun, readers } from '../features/runs/runDraft'

const figures = [
  {
    word: 'power_w',
    name: 'Mean power',
    quantity: 'power',
    part: 'tuned part',
    statistic: 'mean',
    unit: 'W',
    decimals: 1,
    line: 'w',
  },
  {
    word: 'room_c',
    name: 'Room',
    quantity: 'temperature',
    part: 'room',
    statistic: 'mean',
    unit: '°C',
    decimals: 1,
    line: 'room',
  },
] as FigureWords[]
const typed = () => ({
  ...emptyRun(),
  settingId: 4,
  workloadId: 2,
  value: 93.6,
  minutes: 1.5,
  read: { power_w: 180, room_c: 24 },
  powerBy: 'wall',
  fan: '45 %',
  note: 'first',
})
const clamp = { id: 7, name: 'clamp', kind: 'clamp', quantity: 'power', trust: 'suspect' } as Instrument

describe('a run as typed', () => {
  it('is sent in the units of the API, each figure by its key', () => {
    const sent = asRunIn(typed(), figures)
    expect(sent).toMatchObject({ setting_id: 4, workload_id: 2, value: 93.6, duration_s: 90 })
    expect(sent.figures).toEqual([
      { quantity: 'power', part: 'tuned part', statistic: 'mean', value: 180, instrument_id: null, point: 'wall' },
      { quantity: 'temperature', part: 'room', statistic: 'mean', value: 24, instrument_id: null, point: 'unknown' },
    ])
  })

  it('names the instrument that read the watts', () => {
    const [power] = asRunIn({ ...typed(), powerBy: '7' }, figures).figures ?? []
    expect(power).toMatchObject({ instrument_id: 7, point: 'unknown' })
  })

  it('leaves out what was not read', () => {
    expect(asRunIn({ ...typed(), read: { power_w: null } }, figures).figures).toEqual([])
  })

  it('keeps the conditions for the next run and empties the results', () => {
    const more = [
      { quantity: 'noise' as const, part: 'whole machine' as const, statistic: 'mean' as const, by: 'unknown', value: 39 },
    ]
    const next = nextRun({ ...typed(), more })
    expect(next).toMatchObject({ settingId: 4, workloadId: 2, powerBy: 'wall', read: { room_c: 24 }, fan: '45 %' })
    expect([next.value, next.read.power_w, next.minutes, next.note, next.outcome]).toEqual([
      null,
      undefined,
      null,
      '',
      'completed',
    ])
    expect(next.more).toEqual([{ ...more[0], value: null }])
  })
})

describe('who can have read a quantity', () => {
  it('is the rig’s instruments first, then the usual points it has none at', () => {
    expect(readers([clamp], 'power').map((one) => one.value)).toEqual(['7', 'software', 'wall', 'unknown'])
    expect(readers([clamp], 'power')[0]?.label).toBe('clamp (suspect)')
    expect(readers([clamp], 'noise').map((one) => one.value)).toEqual(['unknown'])
  })
})
