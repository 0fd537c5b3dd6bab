import { useMutation, useQueryClient } from '@tanstack/vue-query'

import { answered, client, type Schemas } from './client'
import { refresh } from './refresh'

export type WhatCountsIn = Schemas['WhatCountsIn']

export function useSetWhatCounts() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ campaignId, body }: { campaignId: number; body: WhatCountsIn }) =>
      answered(client.PUT('/api/campaigns/{campaign_id}/what-counts', { params: { path: { campaign_id: campaignId } }, body })),
    onSuccess: () => void refresh(queries),
  })
}

export function useSayEnough() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ campaignId, enough }: { campaignId: number; enough: boolean }) =>
      answered(
        client.POST('/api/campaigns/{campaign_id}/baseline/enough', {
          params: { path: { campaign_id: campaignId } },
          body: { enough },
        }),
      ),
    onSuccess: () => void refresh(queries),
  })
}
