import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'

import { answered, client, type Schemas } from './client'
import { APART, refreshAll } from './refresh'

export const useSession = () =>
  useQuery({
    queryKey: ['session'],
    queryFn: () => answered(client.GET('/api/session')),
    refetchInterval: 60_000,
    ...APART,
  })

export function useSignIn() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: Schemas['SignIn']) => answered(client.POST('/api/session', { body })),
    onSuccess: () => void refreshAll(queries),
  })
}

export function useSignOut() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: () => answered(client.DELETE('/api/session')),
    onSuccess: () => void refreshAll(queries),
  })
}
