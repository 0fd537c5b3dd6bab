import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type TradeOff = Schemas['TradeOffOut']
export type Spot = Schemas['Spot']
export type Axis = Schemas['AxisOut']['axis']

/** Two figures of every setting against each other. */
export const useTradeOff = (campaignId: MaybeRefOrGetter<number>, x: MaybeRefOrGetter<Axis>, y: MaybeRefOrGetter<Axis>) =>
  useQuery({
    queryKey: ['trade-off', () => toValue(campaignId), () => toValue(x), () => toValue(y)],
    queryFn: () =>
      answered(
        client.GET('/api/campaigns/{campaign_id}/trade-off', {
          params: { path: { campaign_id: toValue(campaignId) }, query: { x: toValue(x), y: toValue(y) } },
        }),
      ),
    placeholderData: keepPreviousData,
  })
