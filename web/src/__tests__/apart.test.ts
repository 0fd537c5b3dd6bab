import { describe, expect, it } from 'vitest'

import { apart } from '../charts/apart'

describe('labels at the ends of lines', () => {
  it('stay where they are while they do not touch', () => {
    expect(apart([40, 0, 20], 14)).toEqual([40, 0, 20])
  })
  it('are moved on where several lines end at one place', () => {
    expect(apart([0, 0, 0], 14)).toEqual([0, 14, 28])
    expect(apart([30, 5, 10], 14)).toEqual([33, 5, 19])
  })
  it('may be none', () => {
    expect(apart([], 14)).toEqual([])
  })
})
