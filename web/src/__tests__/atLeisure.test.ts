import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

import { atLeisure } from '../composables/atLeisure'

let spentMs = 0

/** Something slow to draw; what comes in meanwhile is the newest only. */
function slow(takesMs: number) {
  const drawn: number[] = []
  let newest = 0
  const draw = atLeisure(() => {
    drawn.push(newest)
    spentMs += takesMs
  })
  return { drawn, comes: (value: number) => ((newest = value), draw()) }
}

describe('drawing at leisure', () => {
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'requestAnimationFrame', 'Date'] })
    vi.spyOn(performance, 'now').mockImplementation(() => Date.now() + spentMs)
  })
  afterEach(() => {
    vi.restoreAllMocks()
    vi.useRealTimers()
  })

  it('draws the first at once, and of those that come meanwhile the last', () => {
    const { drawn, comes } = slow(300)
    comes(1)
    expect(drawn).toEqual([1])
    comes(2)
    comes(3)
    vi.advanceTimersByTime(100)
    expect(drawn).toEqual([1])
    vi.advanceTimersByTime(400)
    expect(drawn).toEqual([1, 3])
  })

  it('leaves as much time free as it took, however much comes in', () => {
    const { drawn, comes } = slow(400)
    for (let tick = 0; tick < 100; tick += 1) {
      comes(tick)
      vi.advanceTimersByTime(20)
    }
    // two seconds of others' time, and a drawing for every 400 ms of it and a frame
    expect(drawn.length).toBeGreaterThanOrEqual(4)
    expect(drawn.length).toBeLessThanOrEqual(5)
  })

  it('draws nothing again that nobody asked for', () => {
    const { drawn, comes } = slow(10)
    comes(1)
    vi.advanceTimersByTime(5_000)
    expect(drawn).toEqual([1])
    comes(2)
    expect(drawn).toEqual([1, 2])
  })
})
