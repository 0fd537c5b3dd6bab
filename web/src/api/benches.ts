import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'
import { DECLARED, UNCHANGED } from './refresh'

export type SimulatorKind = Schemas['SimulatorKind']
export type Token = Schemas['TokenOut']

export const useSimulator = () =>
  useQuery({ queryKey: ['simulator'], queryFn: () => answered(client.GET('/api/simulator')), ...DECLARED })

export const useTokens = (rigId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['tokens', () => toValue(rigId)],
    queryFn: () => answered(client.GET('/api/rigs/{rig_id}/bench-tokens', { params: { path: { rig_id: toValue(rigId) } } })),
  })

export function useMakeToken() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ rigId, name }: { rigId: number; name: string }) =>
      answered(client.POST('/api/rigs/{rig_id}/bench-tokens', { params: { path: { rig_id: rigId } }, body: { name } })),
    meta: UNCHANGED,
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['tokens'] }),
  })
}

export function useWithdrawToken() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (id: number) =>
      answered(client.POST('/api/bench-tokens/{token_id}/withdraw', { params: { path: { token_id: id } } })),
    meta: UNCHANGED,
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['tokens'] }),
  })
}
