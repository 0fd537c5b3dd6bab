import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type Ladder = Schemas['Ladder']
export type LadderSetting = Schemas['LadderSetting']
export type Comparison = Schemas['Comparison']
export type RunFacts = Schemas['RunFacts']

export const useLadder = (
  campaignId: MaybeRefOrGetter<number>,
  workloadId: MaybeRefOrGetter<number | undefined>,
  build: MaybeRefOrGetter<number | undefined>,
) =>
  useQuery({
    queryKey: ['ladder', () => toValue(campaignId), () => toValue(workloadId), () => toValue(build)],
    queryFn: () =>
      answered(
        client.GET('/api/campaigns/{campaign_id}/ladder', {
          params: {
            path: { campaign_id: toValue(campaignId) },
            query: { workload_id: toValue(workloadId), build: toValue(build) },
          },
        }),
      ),
    placeholderData: keepPreviousData,
  })
