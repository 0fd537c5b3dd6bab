import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue, watch } from 'vue'

import { answered, client, type Schemas } from './client'
import { goesOn, isNews, over } from './ends'
import type { Outcome } from './runs'
import { DECLARED, refresh } from './refresh'

export type Live = Schemas['LiveOut']
export type SafetyLimit = Schemas['SafetyLimit']
export type Queue = Schemas['QueueOut']

/** Runs that go on, or whose bench fell silent. Asked often while there are any. */
export const useLiveList = () =>
  useQuery({
    queryKey: ['live'],
    queryFn: () => answered(client.GET('/api/live')),
    refetchInterval: (query) => (query.state.data?.length ? 2_000 : 6_000),
    // the parts of a page that look at it come to it one after the other
    staleTime: 1_000,
  })

/** Asks everything again once a run has ended or fallen silent, whatever page is open; the list of those that go on as `data`. */
export function useEndsOfRuns() {
  const queries = useQueryClient()
  const list = useLiveList()
  // not the list itself: it may be as empty as before, and a run have come and gone in between
  watch(list.dataUpdatedAt, () => {
    const listed = new Map(list.data.value?.map((live) => [live.run_id, live.standing.state]))
    const open = [...listed.keys()].filter((id) => listed.get(id) === 'open')
    const news = over(new Set(open)).filter((id) => isNews(id, listed.has(id) ? 'lost' : 'ended'))
    if (news.length) void refresh(queries)
  })
  return list
}

export const useLive = (runId: MaybeRefOrGetter<number>, wanted: MaybeRefOrGetter<boolean>) =>
  useQuery({
    queryKey: ['live', () => toValue(runId)],
    enabled: () => toValue(wanted),
    queryFn: () => answered(client.GET('/api/runs/{run_id}/live', { params: { path: { run_id: toValue(runId) } } })),
  })

export const useBenchOptions = () =>
  useQuery({ queryKey: ['bench options'], queryFn: () => answered(client.GET('/api/bench-options')), ...DECLARED })

/** What has to be typed before this setting is opened; empty below every ceiling. */
export const useCeiling = (campaignId: MaybeRefOrGetter<number>, settingId: MaybeRefOrGetter<number | undefined>) =>
  useQuery({
    queryKey: ['ceiling', () => toValue(campaignId), () => toValue(settingId)],
    enabled: () => toValue(settingId) !== undefined,
    queryFn: () =>
      answered(
        client.GET('/api/campaigns/{campaign_id}/ceiling', {
          params: { path: { campaign_id: toValue(campaignId) }, query: { setting_id: toValue(settingId)! } },
        }),
      ),
  })

function useLiveChange<Input, Output>(change: (input: Input) => Promise<Output>) {
  return useMutation({ mutationFn: change })
}

/** What it changes elsewhere is asked for when it is looked at: one goes on to the run's own page at once. */
export function useStartLive() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ campaignId, body }: { campaignId: number; body: Schemas['StartIn'] }) =>
      answered(client.POST('/api/campaigns/{campaign_id}/live', { params: { path: { campaign_id: campaignId } }, body })),
    meta: { shown: 'when looked at' },
    onSuccess: (live) => {
      goesOn(live.run_id)
      void queries.invalidateQueries({ queryKey: ['live'], exact: true })
    },
  })
}

export const useNoteLive = () =>
  useLiveChange(({ runId, text }: { runId: number; text: string }) =>
    answered(client.POST('/api/runs/{run_id}/live/notes', { params: { path: { run_id: runId } }, body: { text } })),
  )

export const useEndLive = () =>
  useLiveChange(({ runId, outcome, value, note }: { runId: number; outcome: Outcome; value?: number | null; note?: string }) =>
    answered(
      client.POST('/api/runs/{run_id}/live/end', {
        params: { path: { run_id: runId } },
        body: { outcome, value: value ?? null, note: note ?? '' },
      }),
    ),
  )

export const useSafetyLimits = (campaignId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['safety limits', () => toValue(campaignId)],
    queryFn: () =>
      answered(
        client.GET('/api/campaigns/{campaign_id}/safety-limits', { params: { path: { campaign_id: toValue(campaignId) } } }),
      ),
  })

export const useKeepSafetyLimits = () =>
  useLiveChange(({ campaignId, safetyLimits, seen }: { campaignId: number; safetyLimits: SafetyLimit[]; seen: SafetyLimit[] }) =>
    answered(
      client.PUT('/api/campaigns/{campaign_id}/safety-limits', {
        params: { path: { campaign_id: campaignId } },
        body: { safety_limits: safetyLimits, seen },
      }),
    ),
  )

/** The queue, asked every second while it is being worked through. */
export const useQueue = (campaignId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['queue', () => toValue(campaignId)],
    queryFn: () =>
      answered(client.GET('/api/campaigns/{campaign_id}/queue', { params: { path: { campaign_id: toValue(campaignId) } } })),
    refetchInterval: (query) => (isBusy(query.state.data) ? 1_000 : false),
  })

const isOver = (item: Queue['items'][number]): boolean => item.state === 'done' || item.state === 'left out'

export const isBusy = (queue: Queue | undefined): boolean =>
  !!queue?.items.some((item) => item.state === 'running' || (item.state === 'waiting' && !queue.paused))

/** Asks everything again as the queue goes on, whatever stage is open. Told by what came of its items: a short one may be over before it is seen. */
export function useQueueResults(campaignId: MaybeRefOrGetter<number>) {
  const queries = useQueryClient()
  const { data } = useQueue(campaignId)
  watch(
    () => data.value && { campaign: toValue(campaignId), over: data.value.items.filter(isOver) },
    (now, before) => {
      if (now?.campaign !== before?.campaign) return
      const known = new Set(before?.over.map((item) => item.id))
      const news = now?.over.filter((item) => !known.has(item.id)) ?? []
      if (news.filter((item) => !item.run_id || isNews(item.run_id, item.outcome ? 'ended' : 'lost')).length)
        void refresh(queries)
    },
  )
}

export const useLineUp = () =>
  useLiveChange(({ campaignId, body }: { campaignId: number; body: Schemas['QueueIn'] }) =>
    answered(client.POST('/api/campaigns/{campaign_id}/queue', { params: { path: { campaign_id: campaignId } }, body })),
  )

export type QueueAct = 'pause' | 'resume' | 'cancel'

export const useQueueAct = () =>
  useLiveChange(({ campaignId, act }: { campaignId: number; act: QueueAct }) =>
    answered(client.POST(`/api/campaigns/{campaign_id}/queue/${act}`, { params: { path: { campaign_id: campaignId } } })),
  )
