/** The laboratory: models fitted from a campaign's runs and logs. */
import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
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

/** Watts that processor and graphics share. */
export const useBudget = (campaignId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['budget', () => toValue(campaignId)],
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}/budget', { params: { path: { campaign_id: toValue(campaignId) } } })),
  })

/** What a run that goes on predicts of its temperature; asked again as it goes, while it is wanted. */
export const useHeatNow = (runId: MaybeRefOrGetter<number>, everyMs: MaybeRefOrGetter<number | false>) =>
  useQuery({
    queryKey: ['heat-now', () => toValue(runId)],
    enabled: () => toValue(everyMs) !== false,
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

export type BudgetView = Schemas['BudgetView']
export type PowerView = Schemas['PowerView']
export type PredictedView = Schemas['PredictedView']
export type ResponseView = Schemas['ResponseView']
export type CurveView = Schemas['CurveView']
export type PlaneView = Schemas['PlaneView']

export interface PowerAsked {
  workloadId?: number
  settingId?: number
  hoursADay?: number | null
  price?: number | null
}

/** The law of the part's watts, what each knob costs, and a year's energy. */
export const usePower = (campaignId: MaybeRefOrGetter<number>, asked: MaybeRefOrGetter<PowerAsked>) =>
  useQuery({
    queryKey: ['power', () => toValue(campaignId), () => toValue(asked)],
    queryFn: () => {
      const { workloadId, settingId, hoursADay, price } = toValue(asked)
      return answered(
        client.GET('/api/campaigns/{campaign_id}/power', {
          params: {
            path: { campaign_id: toValue(campaignId) },
            query: {
              workload_id: workloadId,
              setting_id: settingId,
              hours_a_day: hoursADay ?? undefined,
              price: price ?? undefined,
            },
          },
        }),
      )
    },
    placeholderData: keepPreviousData,
  })

/** What a setting not yet tried would reach, draw and heat up to. */
export const usePredicted = (
  campaignId: MaybeRefOrGetter<number>,
  wish: MaybeRefOrGetter<{ values: Record<string, number>; workload_id: number } | undefined>,
) =>
  useQuery({
    queryKey: ['predicted', () => toValue(campaignId), () => toValue(wish)],
    queryFn: () =>
      answered(
        client.POST('/api/campaigns/{campaign_id}/predict', {
          params: { path: { campaign_id: toValue(campaignId) } },
          body: toValue(wish)!,
        }),
      ),
    enabled: () => !!toValue(wish),
    placeholderData: keepPreviousData,
    retry: false,
  })

/** Speed against power by each way of saving. */
export const useResponse = (campaignId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['response', () => toValue(campaignId)],
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}/response', { params: { path: { campaign_id: toValue(campaignId) } } })),
  })

export interface CurveWish {
  capV?: number
  targetMhz?: number
  gridMhz?: number
  mostOffsetMhz?: number
  forClock?: number
}

/** The part's clock over voltage, shaped as wished; and the edge over both knobs. */
export const useCurve = (campaignId: MaybeRefOrGetter<number>, wish: MaybeRefOrGetter<CurveWish>) =>
  useQuery({
    queryKey: ['curve', () => toValue(campaignId), () => toValue(wish)],
    queryFn: () => {
      const { capV, targetMhz, gridMhz, mostOffsetMhz, forClock } = toValue(wish)
      return answered(
        client.GET('/api/campaigns/{campaign_id}/curve', {
          params: {
            path: { campaign_id: toValue(campaignId) },
            query: { cap_v: capV, target_mhz: targetMhz, grid_mhz: gridMhz, most_offset_mhz: mostOffsetMhz, for_clock: forClock },
          },
        }),
      )
    },
    placeholderData: keepPreviousData,
  })

export function useKeepCurve() {
  return useMutation({
    mutationFn: ({ campaignId, text }: { campaignId: number; text: string }) =>
      answered(
        client.PUT('/api/campaigns/{campaign_id}/curve', { params: { path: { campaign_id: campaignId } }, body: { text } }),
      ),
  })
}

export type SweepView = Schemas['SweepView']

export interface SweepWish {
  knob?: string
  first?: number
  last?: number
  every?: number
}

/** A knob's values against the workloads. */
export const useSweep = (campaignId: MaybeRefOrGetter<number>, wish: MaybeRefOrGetter<SweepWish>) =>
  useQuery({
    queryKey: ['sweep', () => toValue(campaignId), () => toValue(wish)],
    queryFn: () =>
      answered(
        client.GET('/api/campaigns/{campaign_id}/sweep', {
          params: { path: { campaign_id: toValue(campaignId) }, query: toValue(wish) },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  })

export function useRunSweep() {
  return useMutation({
    mutationFn: ({ campaignId, body }: { campaignId: number; body: Schemas['SweepIn'] }) =>
      answered(client.POST('/api/campaigns/{campaign_id}/sweep', { params: { path: { campaign_id: campaignId } }, body })),
  })
}

/** A question that is asked once it is complete. */
function useAsked<W extends object, T>(name: string, wish: MaybeRefOrGetter<W | undefined>, ask: (wish: W) => Promise<T>) {
  return useQuery({
    queryKey: [name, () => toValue(wish)],
    queryFn: () => ask(toValue(wish)!),
    enabled: () => !!toValue(wish),
    retry: false,
  })
}

/** From a meter at the wall to direct current, and to one part. */
export const useSupply = (
  wish: MaybeRefOrGetter<
    | {
        wall_w: number
        rated_w: number
        rating: 'Bronze' | 'Gold' | 'Platinum' | 'Titanium'
        rest_w?: number
        rest_give_or_take_w?: number
      }
    | undefined
  >,
) => useAsked('supply', wish, (query) => answered(client.GET('/api/lab/supply', { params: { query } })))

/** What the voltage loses under a current. */
export const useDroop = (wish: MaybeRefOrGetter<{ idle_v: number; load_v: number; amperes: number } | undefined>) =>
  useAsked('droop', wish, (query) => answered(client.GET('/api/lab/droop', { params: { query } })))

/** What the tuned part's voltage loses under current, learnt from logs. */
export const useLearntDroop = (campaignId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['learnt-droop', () => toValue(campaignId)],
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}/droop', { params: { path: { campaign_id: toValue(campaignId) } } })),
  })

/** Noise at another fan speed, and of two sources at once. */
export const useSound = (
  wish: MaybeRefOrGetter<{ dba: number; fan?: number; other_fan?: number; other_dba?: number } | undefined>,
) => useAsked('sound', wish, (query) => answered(client.GET('/api/lab/sound', { params: { query } })))
