import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'
import { UNCHANGED } from './refresh'

export type Versus = Schemas['Versus']
export type Candidate = Schemas['Candidate']
export type Cell = Schemas['Cell']
export type Side = Schemas['Side']
export type Trap = Schemas['Trap']
export type Verdict = Schemas['Verdict']
export type TargetColumn = Schemas['TargetColumn']

export interface Choice {
  reference: number | undefined
  candidates: string[]
  holm: boolean
  looks: boolean
  referenceBuild: number | undefined
}

export const useVersus = (campaignId: MaybeRefOrGetter<number>, choice: MaybeRefOrGetter<Choice>) =>
  useQuery({
    queryKey: ['versus', () => toValue(campaignId), () => toValue(choice)],
    queryFn: () => {
      const { reference, candidates, holm, looks, referenceBuild } = toValue(choice)
      return answered(
        client.GET('/api/campaigns/{campaign_id}/compare', {
          params: {
            path: { campaign_id: toValue(campaignId) },
            query: { reference, candidates: candidates.join(','), holm, looks, reference_build: referenceBuild },
          },
        }),
      )
    },
    placeholderData: keepPreviousData,
  })

export type SideChoice = Schemas['SideChoice']
/** Settings of every campaign that share a workload with this one. */
export const useSides = (campaignId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['sides', () => toValue(campaignId)],
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}/sides', { params: { path: { campaign_id: toValue(campaignId) } } })),
  })

export type ClaimIn = Schemas['ClaimIn']
export const useCheckClaim = () =>
  useMutation({ mutationFn: (body: ClaimIn) => answered(client.POST('/api/claims/check', { body })), meta: UNCHANGED })

/** The fields that a pasted line fills in; none where it can be read in more than one way. */
export const usePrefillClaim = () =>
  useMutation({ mutationFn: (text: string) => answered(client.POST('/api/claims/prefill', { body: { text } })), meta: UNCHANGED })

interface KeptTarget {
  campaignId: number
  targetId?: number
  body: Schemas['TargetIn']
  /** The target as it was when the form was opened. */
  seen: Schemas['TargetChange']['seen']
}
export function useKeepTarget() {
  return useMutation({
    mutationFn: ({ campaignId, targetId, body, seen }: KeptTarget) =>
      targetId
        ? answered(client.PUT('/api/targets/{target_id}', { params: { path: { target_id: targetId } }, body: { ...body, seen } }))
        : answered(client.POST('/api/campaigns/{campaign_id}/targets', { params: { path: { campaign_id: campaignId } }, body })),
  })
}

export function useDropTarget() {
  return useMutation({
    mutationFn: (targetId: number) =>
      answered(client.DELETE('/api/targets/{target_id}', { params: { path: { target_id: targetId } } })),
  })
}
