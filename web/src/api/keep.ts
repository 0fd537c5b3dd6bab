import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type KeepView = Schemas['KeepView']
export type Kept = Schemas['Kept']
export type KeptSetting = Schemas['KeptSettingView']
export type KeptSettingUse = Schemas['KeptSettingIn']['use']
export type UseBody = Schemas['UseIn']

/** What may be kept of a campaign, and what each component of a setting brings; of the best by the goal where none is named. */
export const useKeep = (campaignId: MaybeRefOrGetter<number>, settingId: MaybeRefOrGetter<number | undefined>) =>
  useQuery({
    queryKey: ['keep', () => toValue(campaignId), () => toValue(settingId)],
    queryFn: () =>
      answered(
        client.GET('/api/campaigns/{campaign_id}/keep', {
          params: { path: { campaign_id: toValue(campaignId) }, query: { setting_id: toValue(settingId) } },
        }),
      ),
    placeholderData: keepPreviousData,
  })

export interface KeptSettingsAsked {
  campaign_id?: number
  rig_id?: number
  past?: boolean
}

/** Settings that are kept, of a campaign, a rig, or all; those in use first. */
export const useKeptSettings = (asked: MaybeRefOrGetter<KeptSettingsAsked>) =>
  useQuery({
    queryKey: ['keptSettings', () => toValue(asked)],
    queryFn: () => answered(client.GET('/api/kept-settings', { params: { query: toValue(asked) } })),
  })

export const useKeptSetting = (id: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['keptSetting', () => toValue(id)],
    queryFn: () =>
      answered(client.GET('/api/kept-settings/{kept_setting_id}', { params: { path: { kept_setting_id: toValue(id) } } })),
  })

/** Everything that is done with a kept setting; all that is on the screen is asked again afterwards. */
export function useKeptSettingActs() {
  const at = (id: number) => ({ params: { path: { kept_setting_id: id } } })
  const of = (id: number) => ({ params: { path: { entry_id: id } } })
  return {
    keep: useMutation({
      mutationFn: ({ campaignId, body }: { campaignId: number; body: Schemas['KeptSettingIn'] }) =>
        answered(
          client.POST('/api/campaigns/{campaign_id}/kept-settings', { params: { path: { campaign_id: campaignId } }, body }),
        ),
    }),
    rename: useMutation({
      mutationFn: ({ id, body }: { id: number; body: Schemas['KeptSettingName'] }) =>
        answered(client.PUT('/api/kept-settings/{kept_setting_id}', { ...at(id), body })),
    }),
    putInUse: useMutation({
      mutationFn: ({ id, inUse }: { id: number; inUse: boolean }) =>
        answered(client.POST('/api/kept-settings/{kept_setting_id}/in-use', { ...at(id), body: { in_use: inUse } })),
    }),
    takeBack: useMutation({
      mutationFn: ({ id, reason, takenBack }: { id: number; reason: string; takenBack: boolean }) =>
        answered(
          client.POST('/api/kept-settings/{kept_setting_id}/take-back', { ...at(id), body: { taken_back: takenBack, reason } }),
        ),
    }),
    logUse: useMutation({
      mutationFn: ({ id, body }: { id: number; body: UseBody }) =>
        answered(client.POST('/api/kept-settings/{kept_setting_id}/use', { ...at(id), body })),
    }),
    removeUse: useMutation({
      mutationFn: (entryId: number) => answered(client.DELETE('/api/use/{entry_id}', of(entryId))),
    }),
    probe: useMutation({
      mutationFn: ({ entryId, body }: { entryId: number; body: Schemas['ProbeIn'] }) =>
        answered(client.POST('/api/use/{entry_id}/probes', { ...of(entryId), body })),
    }),
    verdict: useMutation({
      mutationFn: ({ entryId, verdict }: { entryId: number; verdict: Schemas['VerdictIn']['verdict'] }) =>
        answered(client.POST('/api/use/{entry_id}/verdict', { ...of(entryId), body: { verdict } })),
    }),
    simulatorUse: useMutation({
      mutationFn: ({ id, hours, workloadId }: { id: number; hours: number; workloadId: number }) =>
        answered(
          client.POST('/api/kept-settings/{kept_setting_id}/simulator-use', {
            ...at(id),
            body: { hours, workload_id: workloadId },
          }),
        ),
    }),
    simulatorTime: useMutation({
      mutationFn: ({ id, workloadId, seed }: { id: number; workloadId: number; seed?: number }) =>
        answered(
          client.POST('/api/kept-settings/{kept_setting_id}/simulator-time', {
            ...at(id),
            body: { workload_id: workloadId, seed },
          }),
        ),
    }),
    simulatorProbe: useMutation({
      mutationFn: ({ entryId, body }: { entryId: number; body: Schemas['SimulatorProbeIn'] }) =>
        answered(client.POST('/api/use/{entry_id}/simulator-probe', { ...of(entryId), body })),
    }),
  }
}
