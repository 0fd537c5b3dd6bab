import { useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client } from './client'

/** The short form of a campaign's story; asked for only while it is looked at. */
export const useShortReport = (campaignId: MaybeRefOrGetter<number>, wanted: MaybeRefOrGetter<boolean>) =>
  useQuery({
    queryKey: ['report', () => toValue(campaignId)],
    enabled: () => toValue(wanted),
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}/report', { params: { path: { campaign_id: toValue(campaignId) } } })),
  })
