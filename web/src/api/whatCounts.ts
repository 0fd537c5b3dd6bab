import { useMutation } from '@tanstack/vue-query'

import { answered, client, type Schemas } from './client'

export type WhatCountsIn = Schemas['WhatCountsIn']

export function useSetWhatCounts() {
  return useMutation({
    mutationFn: ({ campaignId, body }: { campaignId: number; body: WhatCountsIn }) =>
      answered(client.PUT('/api/campaigns/{campaign_id}/what-counts', { params: { path: { campaign_id: campaignId } }, body })),
  })
}

export function useSayEnough() {
  return useMutation({
    mutationFn: ({ campaignId, enough }: { campaignId: number; enough: boolean }) =>
      answered(
        client.POST('/api/campaigns/{campaign_id}/baseline/enough', {
          params: { path: { campaign_id: campaignId } },
          body: { enough },
        }),
      ),
  })
}
