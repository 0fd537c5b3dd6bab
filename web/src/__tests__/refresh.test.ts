import { QueryClient, QueryObserver } from '@tanstack/vue-query'
import { expect, it, vi } from 'vitest'

import { DECLARED, refresh } from '../api/refresh'

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
  await vi.waitFor(() => expect(queries.getQueryData(['climb'])).toBe('after'))
})

it('what is on the screen is asked at once, unless it is about to be left', async () => {
  const queryFn = vi.fn(() => Promise.resolve('advice'))
  const queries = new QueryClient()
  new QueryObserver(queries, { queryKey: ['climb'], queryFn, staleTime: Infinity }).subscribe(() => undefined)
  await vi.waitFor(() => expect(queries.getQueryData(['climb'])).toBe('advice'))
  await refresh(queries, 'when looked at')
  expect(queryFn).toHaveBeenCalledTimes(1)
  expect(queries.getQueryState(['climb'])!.isInvalidated).toBe(true)
  await refresh(queries)
  expect(queryFn).toHaveBeenCalledTimes(2)
})

it('what the program declares is not asked again when something has changed', async () => {
  const queryFn = vi.fn(() => Promise.resolve('figures'))
  const queries = new QueryClient()
  new QueryObserver(queries, { queryKey: ['declared'], queryFn, ...DECLARED }).subscribe(() => undefined)
  await vi.waitFor(() => expect(queries.getQueryData(['declared'])).toBe('figures'))
  await refresh(queries)
  expect(queryFn).toHaveBeenCalledTimes(1)
})
