import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'
import { refresh } from './refresh'

export type Setting = Schemas['SettingOut']

export const useSettings = (campaignId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['settings', () => toValue(campaignId)],
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}/settings', { params: { path: { campaign_id: toValue(campaignId) } } })),
  })

export function useAddSetting() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ campaignId, body }: { campaignId: number; body: Schemas['SettingIn'] }) =>
      answered(client.POST('/api/campaigns/{campaign_id}/settings', { params: { path: { campaign_id: campaignId } }, body })),
    onSuccess: () => void refresh(queries),
  })
}
