import { describe, expect, it } from 'vitest'

import { gridTicks } from '../charts/ticks'

describe('labels along a knob', () => {
  it('stand on its grid, few enough to be read, from stock outwards', () => {
    expect(gridTicks(0, 300, 15)).toEqual([0, 75, 150, 225, 300])
    expect(gridTicks(0, -160, 5)).toEqual([0, -50, -100, -150])
    expect(gridTicks(100, 120, 1)).toEqual([100, 105, 110, 115, 120])
    expect(gridTicks(2, 4, 0.5)).toEqual([2, 2.5, 3, 3.5, 4])
  })

  it('are one where there is no room to turn', () => {
    expect(gridTicks(5, 5, 1)).toEqual([5])
  })
})
