import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'
import { UNCHANGED } from './refresh'

export type Account = Schemas['AccountOut']

/** Everyone and every bench that is let in; for owners. */
export const useLetIn = (wanted: MaybeRefOrGetter<boolean>) =>
  useQuery({
    queryKey: ['accounts'],
    queryFn: () => answered(client.GET('/api/accounts')),
    enabled: () => toValue(wanted),
  })

export function useChangeAccount() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ id, ...body }: { id: number } & Schemas['AccountChange']) =>
      answered(client.POST('/api/accounts/{account_id}', { params: { path: { account_id: id } }, body })),
    meta: UNCHANGED,
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['accounts'] }),
  })
}

export const useChangePassword = () =>
  useMutation({
    mutationFn: (body: Schemas['NewPassword']) => answered(client.POST('/api/account/password', { body })),
    meta: UNCHANGED,
  })

export function useSignOutEverywhere() {
  return useMutation({
    mutationFn: () => answered(client.POST('/api/account/sign-out-everywhere')),
    meta: { changes: 'everything' },
  })
}
