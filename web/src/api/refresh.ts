import type { Query, QueryClient } from '@tanstack/vue-query'

/** For what no change in the logbook changes: who is signed in, whether the disk is full. */
export const APART = { meta: { apart: true } }

/** For what the program declares (figures, goals, ways to read a log): asked for once. */
export const DECLARED = { staleTime: Infinity, ...APART }

/** What other tabs of this browser are told when something has changed here. */
const tabs = typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel('trelvo')

/**
 * Something has changed: all is asked anew, what is on the screen at once, the rest when it is looked at.
 * An answer still under way to a page that was left is dropped first: it would count as new, and was given before the change.
 */
export async function refresh(queries: QueryClient, shown: 'at once' | 'when looked at' = 'at once'): Promise<void> {
  tabs?.postMessage('changed')
  await queries.cancelQueries({ type: 'inactive' })
  await queries.invalidateQueries({
    refetchType: shown === 'at once' ? 'active' : 'none',
    predicate: inLogbook,
  })
}

const inLogbook = (query: Query): boolean => !query.meta?.apart

/** Another logbook, or another person: nothing that was answered before holds. */
export async function refreshAll(queries: QueryClient): Promise<void> {
  tabs?.postMessage('replaced')
  await queries.invalidateQueries()
}

/** Asks anew when another tab has changed something. Called once. */
export function hearOtherTabs(queries: QueryClient): void {
  tabs?.addEventListener(
    'message',
    ({ data }) => void queries.invalidateQueries(data === 'replaced' ? {} : { predicate: inLogbook }),
  )
}
