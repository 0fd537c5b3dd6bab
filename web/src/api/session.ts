import { useMutation, useQuery } from '@tanstack/vue-query'

import { answered, client, type Schemas } from './client'
import { APART } from './refresh'

export const useSession = () =>
  useQuery({
    queryKey: ['session'],
    queryFn: () => answered(client.GET('/api/session')),
    refetchInterval: 60_000,
    ...APART,
  })

export function useSignIn() {
  return useMutation({
    mutationFn: (body: Schemas['SignIn']) => answered(client.POST('/api/session', { body })),
    meta: { changes: 'everything' },
  })
}

export function useSignOut() {
  return useMutation({
    mutationFn: () => answered(client.DELETE('/api/session')),
    meta: { changes: 'everything' },
  })
}
