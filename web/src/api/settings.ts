import { useMutation, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'
import { refresh } from './refresh'

export type Setting = Schemas['SettingOut']

/** wanted: whether they are looked at now; a form that is shut asks for none. */
export const useSettings = (campaignId: MaybeRefOrGetter<number>, wanted: MaybeRefOrGetter<boolean> = true) =>
  useQuery({
    queryKey: ['settings', () => toValue(campaignId)],
    enabled: () => toValue(wanted),
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}/settings', { params: { path: { campaign_id: toValue(campaignId) } } })),
  })

/** shown: when what is on the screen is asked again; not at once where a run begins with it, which changes it again. */
export function useAddSetting(shown: Parameters<typeof refresh>[1] = 'at once') {
  return useMutation({
    mutationFn: ({ campaignId, body }: { campaignId: number; body: Schemas['SettingIn'] }) =>
      answered(client.POST('/api/campaigns/{campaign_id}/settings', { params: { path: { campaign_id: campaignId } }, body })),
    meta: { shown },
  })
}
