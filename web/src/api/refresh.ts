import { MutationCache, type Query, type QueryClient } from '@tanstack/vue-query'

/** For what no change in the logbook changes: who is signed in, whether the disk is full. */
export const APART = { meta: { apart: true } }

/** For what the program declares (figures, goals, ways to read a log): asked for once. */
export const DECLARED = { staleTime: Infinity, ...APART }

/** What other tabs of this browser are told when something has changed here. */
const tabs = typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel('trelvo')

/** Something has changed: all is asked again, what is on the screen at once, the rest when it is looked at. */
export async function refresh(queries: QueryClient, shown: 'at once' | 'when looked at' = 'at once'): Promise<void> {
  tabs?.postMessage('changed')
  await askAgain(queries, inLogbook, shown === 'at once')
}

/**
 * An answer still under way was given before the change. TanStack Query would take the first answer to a question as new
 * nevertheless, so those are dropped first, and asked for again at once where they are waited for.
 */
async function askAgain(queries: QueryClient, predicate: (query: Query) => boolean, atOnce: boolean): Promise<void> {
  const underWay = queries.getQueryCache().findAll({ predicate, fetchStatus: 'fetching' })
  await queries.cancelQueries({ predicate, fetchStatus: 'fetching' })
  await queries.invalidateQueries({ predicate, refetchType: 'none' })
  await queries.refetchQueries({ type: 'active', predicate: (query) => predicate(query) && (atOnce || underWay.includes(query)) })
}

const inLogbook = (query: Query): boolean => !query.meta?.apart

/** Another logbook, or another person: nothing that was answered before holds. */
export async function refreshAll(queries: QueryClient): Promise<void> {
  tabs?.postMessage('replaced')
  await askAgain(queries, () => true, true)
}

/** Asks again when another tab has changed something. Called once. */
export function hearOtherTabs(queries: QueryClient): void {
  tabs?.addEventListener('message', ({ data }) => void askAgain(queries, data === 'replaced' ? () => true : inLogbook, true))
}

/** What a mutation changes, where it is not the logbook; and whether what is on the screen is asked for again at once. */
interface Changes extends Record<string, unknown> {
  changes?: 'nothing' | 'everything'
  shown?: 'at once' | 'when looked at'
}
declare module '@tanstack/vue-query' {
  interface Register {
    mutationMeta: Changes
  }
}

/** For a mutation that only checks or tries something, or sees to the questions it concerns itself. */
export const UNCHANGED: Changes = { changes: 'nothing' }

/** Asks again after every mutation that succeeded: a hook says so only where it changes something else than the logbook. */
export const refreshing = (queries: () => QueryClient): MutationCache =>
  new MutationCache({
    onSuccess: (_answer, _sent, _context, mutation) => {
      const { changes, shown }: Changes = mutation.meta ?? {}
      if (changes === 'everything') void refreshAll(queries())
      else if (changes !== 'nothing') void refresh(queries(), shown)
    },
  })
