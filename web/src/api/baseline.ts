import { useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type Baseline = Schemas['BaselineOut']
export type BaselineOfWorkload = Schemas['BaselineOfWorkload']

export const useBaseline = (campaignId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['baseline', () => toValue(campaignId)],
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}/baseline', { params: { path: { campaign_id: toValue(campaignId) } } })),
  })
