import { describe, expect, it } from 'vitest'

import { axisNumber, gridTicks } from '../charts/ticks'

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

describe('numbers on axes', () => {
  it('have no thousands comma, a thin space from 10 000 on and a true minus', () => {
    expect(axisNumber(2400)).toBe('2400')
    expect(axisNumber(12000)).toBe('12\u2009000')
    expect(axisNumber(1250000)).toBe('1\u2009250\u2009000')
    expect(axisNumber(-15)).toBe('−15')
    expect(axisNumber(1.05)).toBe('1.05')
  })

  it('show no rounding of the machine, and leave names as they are', () => {
    expect(axisNumber(0.1 + 0.2)).toBe('0.3')
    expect(axisNumber('stock')).toBe('stock')
  })
})
