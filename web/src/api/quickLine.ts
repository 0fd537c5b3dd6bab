import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type ReadLine = Schemas['LineOut']

/** What a quick line means, read again whenever it changes; nothing is stored. */
export const useReadLine = (campaignId: MaybeRefOrGetter<number>, line: MaybeRefOrGetter<string>) =>
  useQuery({
    queryKey: ['quick line', () => toValue(campaignId), () => toValue(line)],
    enabled: () => toValue(line).trim() !== '',
    queryFn: () =>
      answered(
        client.POST('/api/campaigns/{campaign_id}/quick-line/read', {
          params: { path: { campaign_id: toValue(campaignId) } },
          body: { line: toValue(line), sure: false },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: 0,
  })

export function useLogLine() {
  return useMutation({
    mutationFn: ({ campaignId, line, sure, uid }: { campaignId: number; line: string; sure: boolean; uid: string }) =>
      answered(
        client.POST('/api/campaigns/{campaign_id}/quick-line', {
          params: { path: { campaign_id: campaignId } },
          body: { line, sure, uid },
        }),
      ),
  })
}
