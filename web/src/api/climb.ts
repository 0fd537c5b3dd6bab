import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type ClimbView = Schemas['ClimbView']
export type StrategyStep = Schemas['StrategyStep']
export type KnobTurn = Schemas['KnobTurn']

/** What is asked of a climb: which knob (the one that comes next where left out), and the bench time there is. */
export interface ClimbQuestion {
  knob?: string
  minutes?: number
}

/** One knob's climb: its trials, the chance to hold along it, and what each strategy would do next. */
export const useClimb = (campaignId: MaybeRefOrGetter<number>, question: MaybeRefOrGetter<ClimbQuestion>) =>
  useQuery({
    queryKey: ['climb', () => toValue(campaignId), () => toValue(question)],
    queryFn: () =>
      answered(
        client.GET('/api/campaigns/{campaign_id}/climb', {
          params: { path: { campaign_id: toValue(campaignId) }, query: toValue(question) },
        }),
      ),
    placeholderData: keepPreviousData,
  })

/** How long the rest of the climb takes by each strategy; played through on the server, so it is asked only when wanted. */
export const usePlan = (
  campaignId: MaybeRefOrGetter<number>,
  question: MaybeRefOrGetter<ClimbQuestion>,
  wanted: MaybeRefOrGetter<boolean>,
) =>
  useQuery({
    enabled: () => toValue(wanted),
    queryKey: ['climb', 'plan', () => toValue(campaignId), () => toValue(question)],
    queryFn: () =>
      answered(
        client.GET('/api/campaigns/{campaign_id}/climb/plan', {
          params: { path: { campaign_id: toValue(campaignId) }, query: toValue(question) },
        }),
      ),
    placeholderData: keepPreviousData,
  })
