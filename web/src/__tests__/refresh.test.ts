import { MutationObserver, QueryClient, QueryObserver } from '@tanstack/vue-query'
import { expect, it, vi } from 'vitest'

import { APART, DECLARED, refresh, refreshAll, refreshing, UNCHANGED } from '../api/refresh'

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

it.each(['at once', 'when looked at'] as const)(
  'a first answer under way is asked for again where it is waited for: %s',
  async (shown) => {
    const answers: ((words: string) => void)[] = []
    const queryFn = vi.fn(() => new Promise<string>((resolve) => answers.push(resolve)))
    const queries = new QueryClient()
    new QueryObserver(queries, { queryKey: ['climb'], queryFn, staleTime: 5_000 }).subscribe(() => undefined)

    void refresh(queries, shown)
    await expect.poll(() => queryFn.mock.calls.length).toBe(2)
    answers[0]!('before')
    answers[1]!('after')
    await expect.poll(() => queries.getQueryData(['climb'])).toBe('after')
  },
)

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

it.each([
  ['the logbook, where nothing else is said', undefined, 2, 1],
  ['nothing', UNCHANGED, 1, 1],
  ['everything', { changes: 'everything' as const }, 2, 2],
  ['the logbook, seen later', { shown: 'when looked at' as const }, 1, 1],
])('a mutation that changes %s has that asked for anew', async (_, meta, asksOfLogbook, asksApart) => {
  const queries: QueryClient = new QueryClient({ mutationCache: refreshing(() => queries) })
  const [climb, health] = [vi.fn(() => Promise.resolve('advice')), vi.fn(() => Promise.resolve('well'))]
  new QueryObserver(queries, { queryKey: ['climb'], queryFn: climb, staleTime: Infinity }).subscribe(() => undefined)
  new QueryObserver(queries, { queryKey: ['health'], queryFn: health, staleTime: Infinity, ...APART }).subscribe(() => undefined)
  await expect.poll(() => [queries.getQueryData(['climb']), queries.getQueryData(['health'])]).toEqual(['advice', 'well'])
  const mutation = { mutationFn: () => Promise.resolve('done'), ...(meta ? { meta } : {}) }
  await new MutationObserver(queries, mutation).mutate()
  await expect.poll(() => queries.isFetching()).toBe(0)
  expect([climb.mock.calls.length, health.mock.calls.length]).toEqual([asksOfLogbook, asksApart])
})

it('a mutation that was refused has nothing asked for', async () => {
  const queries: QueryClient = new QueryClient({ mutationCache: refreshing(() => queries) })
  const queryFn = vi.fn(() => Promise.resolve('advice'))
  new QueryObserver(queries, { queryKey: ['climb'], queryFn, staleTime: Infinity }).subscribe(() => undefined)
  await expect.poll(() => queries.getQueryData(['climb'])).toBe('advice')
  const refused = new MutationObserver(queries, { mutationFn: () => Promise.reject(new Error('no')) })
  await expect(refused.mutate()).rejects.toThrow('no')
  expect(queryFn).toHaveBeenCalledTimes(1)
})
