import { QueryClient, QueryObserver } from '@tanstack/vue-query'
import { expect, it, vi } from 'vitest'

import { APART, DECLARED, refresh, refreshAll } from '../api/refresh'

it('an answer given before the change never counts as new, though its page was left', async () => {
  const answers: ((words: string) => void)[] = []
  const queryFn = vi.fn(() => new Promise<string>((resolve) => answers.push(resolve)))
  const queries = new QueryClient()
  const visit = () => new QueryObserver(queries, { queryKey: ['climb'], queryFn, staleTime: 5_000 }).subscribe(() => undefined)

  const leave = visit()
  leave()
  await refresh(queries)
  answers[0]!('before')
  await Promise.resolve()
  visit()
  expect(queryFn).toHaveBeenCalledTimes(2)
  answers[1]!('after')
  await expect.poll(() => queries.getQueryData(['climb'])).toBe('after')
})

it('what is on the screen is asked at once, unless it is about to be left', async () => {
  const queryFn = vi.fn(() => Promise.resolve('advice'))
  const queries = new QueryClient()
  new QueryObserver(queries, { queryKey: ['climb'], queryFn, staleTime: Infinity }).subscribe(() => undefined)
  await expect.poll(() => queries.getQueryData(['climb'])).toBe('advice')
  await refresh(queries, 'when looked at')
  expect(queryFn).toHaveBeenCalledTimes(1)
  expect(queries.getQueryState(['climb'])!.isInvalidated).toBe(true)
  await refresh(queries)
  expect(queryFn).toHaveBeenCalledTimes(2)
})

it.each([APART, DECLARED])('what no change in the logbook changes is asked again only with another logbook', async (kind) => {
  const queryFn = vi.fn(() => Promise.resolve('figures'))
  const queries = new QueryClient()
  new QueryObserver(queries, { queryKey: ['apart'], queryFn, ...kind }).subscribe(() => undefined)
  await expect.poll(() => queries.getQueryData(['apart'])).toBe('figures')
  await refresh(queries)
  expect(queryFn).toHaveBeenCalledTimes(1)
  await refreshAll(queries)
  expect(queryFn).toHaveBeenCalledTimes(2)
})
