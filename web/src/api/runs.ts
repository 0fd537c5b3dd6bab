import { useMutation, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type Run = Schemas['RunOut']
export type RunIn = Schemas['RunIn']
export type Outcome = Run['outcome']

/** Runs of one setting; nothing is asked while the setting is not known. */
export const useRuns = (campaignId: MaybeRefOrGetter<number>, settingId: MaybeRefOrGetter<number | undefined>) =>
  useQuery({
    queryKey: ['runs', () => toValue(campaignId), () => toValue(settingId)],
    enabled: () => toValue(settingId) !== undefined,
    queryFn: () =>
      answered(
        client.GET('/api/campaigns/{campaign_id}/runs', {
          params: { path: { campaign_id: toValue(campaignId) }, query: { setting_id: toValue(settingId) } },
        }),
      ),
  })

export const useRun = (id: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['run', () => toValue(id)],
    queryFn: () => answered(client.GET('/api/runs/{run_id}', { params: { path: { run_id: toValue(id) } } })),
  })

/** Every change to a run changes ladders, baselines and standings: all that was read is read again. */
function useRunChange<Input, Output>(change: (input: Input) => Promise<Output>) {
  return useMutation({ mutationFn: change })
}

export const useLogRun = () =>
  useRunChange(({ campaignId, body }: { campaignId: number; body: RunIn }) =>
    answered(client.POST('/api/campaigns/{campaign_id}/runs', { params: { path: { campaign_id: campaignId } }, body })),
  )

export type CorrectionIn = Partial<Schemas['CorrectionIn']>
export const useCorrectRun = () =>
  useRunChange(({ id, body }: { id: number; body: CorrectionIn }) =>
    answered(
      client.POST('/api/runs/{run_id}/correct', { params: { path: { run_id: id } }, body: body as Schemas['CorrectionIn'] }),
    ),
  )

export const useSetAside = () =>
  useRunChange(({ id, reason }: { id: number; reason: string }) =>
    answered(client.POST('/api/runs/{run_id}/set-aside', { params: { path: { run_id: id } }, body: { reason } })),
  )

export const useTakeBack = () =>
  useRunChange((id: number) => answered(client.POST('/api/runs/{run_id}/take-back', { params: { path: { run_id: id } } })))
