import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type GoalView = Schemas['GoalView']
export type Judged = Schemas['Judged']
export type Condition = Schemas['Condition']
export type GoalMeasure = Schemas['GoalMeasure']
export type Task = Schemas['Task']
export type Terms = Schemas['Terms']
export type TermsIn = Partial<Schemas['TermsIn']>
export type WayIn = Partial<Schemas['WayIn']>

const at = (campaignId: number) => ({ path: { campaign_id: campaignId } })

/** The goal in words, and every setting that was run judged by it, best first. */
export const useGoal = (campaignId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['goal', () => toValue(campaignId)],
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}/goal', { params: { path: { campaign_id: toValue(campaignId) } } })),
    placeholderData: keepPreviousData,
  })

/** What a goal and its numbers would say, before they are taken over; asked only while there is something to try. */
export const useTryGoal = (campaignId: MaybeRefOrGetter<number>, tried: MaybeRefOrGetter<Schemas['GoalTryIn'] | null>) =>
  useQuery({
    queryKey: ['goal tried', () => toValue(campaignId), () => toValue(tried)],
    queryFn: () =>
      answered(client.POST('/api/campaigns/{campaign_id}/goal/try', { params: at(toValue(campaignId)), body: toValue(tried)! })),
    enabled: () => toValue(tried) !== null,
    placeholderData: keepPreviousData,
    retry: false,
  })

/** Keep stock, tune, or buy a target: what each gives and costs. */
export const useAlternatives = (campaignId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['alternatives', () => toValue(campaignId)],
    queryFn: () => answered(client.GET('/api/campaigns/{campaign_id}/alternatives', { params: at(toValue(campaignId)) })),
  })

function useChange<Body>(change: (campaignId: number, body: Body) => Promise<unknown>) {
  return useMutation({
    mutationFn: ({ campaignId, body }: { campaignId: number; body: Body }) => change(campaignId, body),
  })
}
/** Changes what the campaign is for. */
export const useSetGoal = () =>
  useChange((campaignId, body: Schemas['GoalIn']) =>
    answered(client.PUT('/api/campaigns/{campaign_id}/goal', { params: at(campaignId), body })),
  )

/** Changes some of the goal's numbers; what is left out stays. */
export const useSetTerms = () =>
  useChange((campaignId, body: Partial<Schemas['TermsChange']>) =>
    answered(client.PUT('/api/campaigns/{campaign_id}/terms', { params: at(campaignId), body: body as Schemas['TermsChange'] })),
  )

/** Changes the way of working; what is left out stays. */
export const useSetWay = () =>
  useChange((campaignId, body: WayIn) =>
    answered(client.PUT('/api/campaigns/{campaign_id}/way', { params: at(campaignId), body: body as Schemas['WayIn'] })),
  )
