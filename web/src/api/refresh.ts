import type { QueryClient } from '@tanstack/vue-query'

/** For what the program declares (figures, goals, ways to read a log): asked for once, whatever changes in the logbook. */
export const DECLARED = { staleTime: Infinity, meta: { declared: true } }

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
    predicate: (query) => !query.meta?.declared,
  })
}

/** Asks anew when another tab has changed something. Called once. */
export function hearOtherTabs(queries: QueryClient): void {
  tabs?.addEventListener('message', () => void queries.invalidateQueries())
}
