import { describe, expect, it } from 'vitest'

import { asRunIn, emptyRun, nextRun } from '../runs/runDraft'

const typed = () => ({
  ...emptyRun(), settingId: 4, workloadId: 2, value: 93.6, minutes: 1.5, power_w: 180, power_point: 'wall' as const, room_c: 24, fan: '45 %', note: 'first',
})

describe('a run as typed', () => {
  it('is sent in the units of the API', () => {
    const sent = asRunIn(typed())
    expect(sent).toMatchObject({ setting_id: 4, workload_id: 2, value: 93.6, duration_s: 90, power_w: 180, power_point: 'wall' })
    expect(sent).not.toHaveProperty('minutes')
  })

  it('claims no measuring point without watts', () => {
    expect(asRunIn({ ...typed(), power_w: null }).power_point).toBe('unknown')
  })

  it('keeps the conditions for the next run and empties the results', () => {
    const next = nextRun(typed())
    expect(next).toMatchObject({ settingId: 4, workloadId: 2, power_point: 'wall', room_c: 24, fan: '45 %' })
    expect([next.value, next.power_w, next.minutes, next.note, next.outcome]).toEqual([null, null, null, '', 'completed'])
  })
})
