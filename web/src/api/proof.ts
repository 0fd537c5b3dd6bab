import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type ProofView = Schemas['ProofView']
export type Approach = Schemas['ApproachView']
export type Item = Schemas['Item']
export type Triage = Schemas['TriageView']

export interface ProofQuestion {
  setting_id?: number
  minutes?: number
}

/** A setting's proof by every approach; of the furthest that has not failed where none is named. */
export const useProof = (campaignId: MaybeRefOrGetter<number>, question: MaybeRefOrGetter<ProofQuestion>) =>
  useQuery({
    queryKey: ['proof', () => toValue(campaignId), () => toValue(question)],
    queryFn: () =>
      answered(
        client.GET('/api/campaigns/{campaign_id}/proof', {
          params: { path: { campaign_id: toValue(campaignId) }, query: toValue(question) },
        }),
      ),
    placeholderData: keepPreviousData,
  })

/** What to do after a run failed, in order. */
export const useTriage = (runId: MaybeRefOrGetter<number | undefined>) =>
  useQuery({
    queryKey: ['triage', () => toValue(runId)],
    enabled: () => toValue(runId) !== undefined,
    queryFn: () => answered(client.GET('/api/runs/{run_id}/triage', { params: { path: { run_id: toValue(runId)! } } })),
  })

export function useSetTestSuite() {
  return useMutation({
    mutationFn: ({ campaignId, body }: { campaignId: number; body: Schemas['TestSuiteIn'] }) =>
      answered(client.POST('/api/campaigns/{campaign_id}/test-suite', { params: { path: { campaign_id: campaignId } }, body })),
  })
}
