import type { QueryClient } from '@tanstack/vue-query'

/**
 * Something has changed: all is asked anew, what is on the screen at once, the rest when it is looked at.
 * An answer still under way to a page that was left is dropped first: it would count as new, and was given before the change.
 */
export async function refresh(queries: QueryClient, shown: 'at once' | 'when looked at' = 'at once'): Promise<void> {
  await queries.cancelQueries({ type: 'inactive' })
  await queries.invalidateQueries({ refetchType: shown === 'at once' ? 'active' : 'none' })
}
