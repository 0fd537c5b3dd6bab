/** What is asked of the server, with its answers. */
import { QueryClient } from '@tanstack/vue-query'

import { Refusal } from './api/client'
import { refreshing } from './api/refresh'

// The server is most often on this machine: a network that went away, as the browser tells, is no reason to wait.
export const queries: QueryClient = new QueryClient({
  mutationCache: refreshing(() => queries),
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      networkMode: 'always',
      // what the server refused once it refuses again; only a lost connection is worth another try
      retry: (count, trouble) => trouble instanceof Refusal && trouble.status === 0 && count < 2,
    },
    mutations: { networkMode: 'always' },
  },
})
