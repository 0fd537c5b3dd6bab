/** The laboratory: models fitted from a campaign's runs and logs. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type Interval = Schemas['Interval']
export type HeatView = Schemas['HeatView']
export type HeatTrace = Schemas['HeatTrace']
export type HeldBack = Schemas['HeldBack']

export interface HeatAsked {
  runId?: number
  limitC?: number | null
  roomC?: number | null
  settingId?: number
}

/** What a campaign's logs say of heat. */
export const useHeat = (campaignId: MaybeRefOrGetter<number>, asked: MaybeRefOrGetter<HeatAsked>) =>
  useQuery({
    queryKey: ['heat', () => toValue(campaignId), () => toValue(asked)],
    queryFn: () => {
      const { runId, limitC, roomC, settingId } = toValue(asked)
      return answered(
        client.GET('/api/campaigns/{campaign_id}/heat', {
          params: {
            path: { campaign_id: toValue(campaignId) },
            query: { run_id: runId, limit_c: limitC ?? undefined, room_c: roomC ?? undefined, setting_id: settingId },
          },
        }),
      )
    },
    placeholderData: keepPreviousData,
  })

/** What a run that goes on foretells of its temperature; asked again as it goes. */
export const useHeatNow = (runId: MaybeRefOrGetter<number>, everyMs: MaybeRefOrGetter<number | false>) =>
  useQuery({
    queryKey: ['heat-now', () => toValue(runId)],
    queryFn: () => answered(client.GET('/api/live/{run_id}/heat', { params: { path: { run_id: toValue(runId) } } })),
    refetchInterval: () => toValue(everyMs),
  })

/** What held the part back in a kept log. */
export const useHeldBack = (seriesId: MaybeRefOrGetter<number>, wanted: MaybeRefOrGetter<boolean>) =>
  useQuery({
    queryKey: ['held-back', () => toValue(seriesId)],
    queryFn: () =>
      answered(client.GET('/api/series/{series_id}/held-back', { params: { path: { series_id: toValue(seriesId) } } })),
    enabled: () => toValue(wanted),
    retry: false,
    staleTime: Infinity,
  })
