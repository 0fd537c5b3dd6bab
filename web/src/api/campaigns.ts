import { useMutation, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type CampaignCard = Schemas['CampaignCard']
export type Campaign = Schemas['CampaignOut']
export type CampaignIn = Schemas['CampaignIn']
export type Knob = Schemas['Knob']
export type Workload = Schemas['WorkloadOut']
/** All that a run can be made with: what is measured, then what is proved with besides. */
export const testable = (campaign: Campaign): Workload[] => [...campaign.workloads, ...campaign.test_suite]
export type Stage = Schemas['Stage']

export const useCampaigns = (archived: MaybeRefOrGetter<boolean> = false) =>
  useQuery({
    queryKey: ['campaigns', () => toValue(archived)],
    queryFn: () => answered(client.GET('/api/campaigns', { params: { query: { archived: toValue(archived), in_parts: true } } })),
    // each answer computes some more of a large logbook
    refetchInterval: ({ state }) => (state.data?.some((one) => one.waiting) ? 100 : false),
  })

/** Names alone, for choosing one: asks nothing of where campaigns stand. */
export const useCampaignNames = () =>
  useQuery({ queryKey: ['campaign names'], queryFn: () => answered(client.GET('/api/campaigns/names')) })

/** Campaigns that will be removed at the next start; until then they can be undone. */
export const useDeleted = () =>
  useQuery({ queryKey: ['deleted campaigns'], queryFn: () => answered(client.GET('/api/deleted-campaigns')) })

export const useWhatGoes = (id: MaybeRefOrGetter<number>, asked: MaybeRefOrGetter<boolean>) =>
  useQuery({
    queryKey: ['what goes', () => toValue(id)],
    enabled: () => toValue(asked),
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}/what-goes', { params: { path: { campaign_id: toValue(id) } } })),
  })

function useCampaignChange<Input, Output>(change: (input: Input) => Promise<Output>) {
  return useMutation({ mutationFn: change })
}
const at = (id: number) => ({ path: { campaign_id: id } })

export const useArchive = () =>
  useCampaignChange(({ id, archived }: { id: number; archived: boolean }) =>
    answered(client.PUT('/api/campaigns/{campaign_id}/archived', { params: at(id), body: { archived } })),
  )

export const useDelete = () =>
  useCampaignChange(({ id, name }: { id: number; name: string }) =>
    answered(client.POST('/api/campaigns/{campaign_id}/delete', { params: at(id), body: { name } })),
  )

export const useTakeBackDeletion = () =>
  useCampaignChange((id: number) => answered(client.POST('/api/campaigns/{campaign_id}/undelete', { params: at(id) })))

export const useAddKnob = () =>
  useCampaignChange(({ id, body }: { id: number; body: Schemas['KnobIO'] }) =>
    answered(client.POST('/api/campaigns/{campaign_id}/knobs', { params: at(id), body })),
  )

/** Role, part, range and step of a knob; what was run stays. */
export const useChangeKnob = () =>
  useCampaignChange(({ id, key, body }: { id: number; key: string; body: Schemas['KnobChange'] }) =>
    answered(client.PATCH('/api/campaigns/{campaign_id}/knobs/{key}', { params: { path: { campaign_id: id, key } }, body })),
  )

export const useRetireKnob = () =>
  useCampaignChange(({ id, key, retired }: { id: number; key: string; retired: boolean }) =>
    answered(
      client.PUT('/api/campaigns/{campaign_id}/knobs/{key}', { params: { path: { campaign_id: id, key } }, body: { retired } }),
    ),
  )

export const useAddWorkload = () =>
  useCampaignChange(({ id, body }: { id: number; body: Schemas['FurtherWorkload'] }) =>
    answered(client.POST('/api/campaigns/{campaign_id}/workloads', { params: at(id), body })),
  )

export const useRetireWorkload = () =>
  useCampaignChange(({ id, workloadId }: { id: number; workloadId: number }) =>
    answered(
      client.DELETE('/api/campaigns/{campaign_id}/workloads/{workload_id}', {
        params: { path: { campaign_id: id, workload_id: workloadId } },
      }),
    ),
  )

export const fetchCampaign = (id: number): Promise<Campaign> =>
  answered(client.GET('/api/campaigns/{campaign_id}', { params: at(id) }))

/** askAtStart: whether what is known already is asked again as its part of a page appears */
export const useCampaign = (id: MaybeRefOrGetter<number>, askAtStart = true) =>
  useQuery({
    queryKey: ['campaign', () => toValue(id)],
    refetchOnMount: askAtStart,
    queryFn: () => fetchCampaign(toValue(id)),
  })

export function useMakeCampaign() {
  return useMutation({
    mutationFn: (body: CampaignIn) => answered(client.POST('/api/campaigns', { body })),
  })
}
