import { beforeEach, expect, it, vi } from 'vitest'

let ends: typeof import('../api/ends')
beforeEach(async () => {
  vi.resetModules()
  ends = await import('../api/ends')
})

it('the end of a run is news to whoever tells it first', () => {
  ends.goesOn(7)
  expect(ends.isNews(7, 'ended')).toBe(true)
  expect(ends.over(new Set())).toEqual([])
  expect(ends.isNews(7, 'ended')).toBe(false)
})

it('a run that is not among the open ones any more is over, even where it was only begun here', () => {
  ends.goesOn(7)
  expect(ends.over(new Set([8]))).toEqual([7])
  expect(ends.isNews(7, 'ended')).toBe(true)
  expect(ends.over(new Set([8]))).toEqual([])
  expect(ends.over(new Set())).toEqual([8])
})

it('a bench that fell silent, came back and ended is news each time', () => {
  ends.goesOn(7)
  expect(ends.isNews(7, 'lost')).toBe(true)
  ends.over(new Set([7]))
  expect(ends.isNews(7, 'lost')).toBe(true)
  expect(ends.isNews(7, 'ended')).toBe(true)
  expect(ends.isNews(7, 'ended')).toBe(false)
})
