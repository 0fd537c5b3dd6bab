import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, formData, type Schemas } from './client'
import { refresh } from './refresh'

export type CampaignCard = Schemas['CampaignCard']
export type Campaign = Schemas['CampaignOut']
export type CampaignIn = Schemas['CampaignIn']
export type Knob = Schemas['Knob']
export type Workload = Schemas['WorkloadOut']
/** All that a run can be made with: what is measured, then what is proved with besides. */
export const testable = (campaign: Campaign): Workload[] => [...campaign.workloads, ...campaign.battery]
export type Stage = Schemas['Stage']

export const useCampaigns = () =>
  useQuery({ queryKey: ['campaigns'], queryFn: () => answered(client.GET('/api/campaigns')) })

export const useCampaign = (id: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['campaign', () => toValue(id)],
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}', { params: { path: { campaign_id: toValue(id) } } })),
  })

export const useGoals = () =>
  useQuery({ queryKey: ['goals'], queryFn: () => answered(client.GET('/api/goals')), staleTime: Infinity })

export function useMakeCampaign() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: CampaignIn) => answered(client.POST('/api/campaigns', { body })),
    onSuccess: () => void refresh(queries),
  })
}

export function useImportCampaign() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ file, asCopy }: { file: File; asCopy: boolean }) =>
      answered(
        client.POST('/api/campaigns/import', {
          body: { file: '', as_copy: asCopy },
          bodySerializer: () => formData({ file, as_copy: asCopy }),
        }),
      ),
    onSuccess: () => void refresh(queries),
  })
}
