import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type Tonight = Schemas['Tonight']
/** When the time at the bench begins and ends, as ISO times. */
export interface Evening {
  begin: string
  until: string
}

/** What is left of an evening: it begins now once its beginning has passed; nothing is left where its end has. */
export function leftOf(evening: Evening, now: number = Date.now()): { begin: string; minutes: number } {
  const begin = Math.max(now, Date.parse(evening.begin))
  return { begin: new Date(begin).toISOString(), minutes: Math.floor((Date.parse(evening.until) - begin) / 60_000) }
}

/** The plan of what is left of an evening; rebuilt whenever something has been logged. */
export const useTonight = (campaignId: MaybeRefOrGetter<number>, evening: MaybeRefOrGetter<Evening | null>) =>
  useQuery({
    queryKey: ['tonight', () => toValue(campaignId), () => toValue(evening)],
    queryFn: () =>
      answered(
        client.GET('/api/campaigns/{campaign_id}/tonight', {
          params: { path: { campaign_id: toValue(campaignId) }, query: leftOf(toValue(evening)!) },
        }),
      ),
    enabled: () => toValue(evening) !== null,
    placeholderData: keepPreviousData,
  })
