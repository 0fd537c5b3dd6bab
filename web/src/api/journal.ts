import { useMutation, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'
import { UNCHANGED } from './refresh'

export type RigPage = Schemas['RigPage']
export type RigEvent = Schemas['Event']
export type Entry = Schemas['Entry']
export type EntryBody = Schemas['EntryIn']

export const useRigPage = (rigId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['rig page', () => toValue(rigId)],
    queryFn: () => answered(client.GET('/api/rigs/{rig_id}/page', { params: { path: { rig_id: toValue(rigId) } } })),
  })

export const useAgeing = (rigId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['ageing', () => toValue(rigId)],
    queryFn: () => answered(client.GET('/api/rigs/{rig_id}/ageing', { params: { path: { rig_id: toValue(rigId) } } })),
  })

export function useJournalActs() {
  return {
    write: useMutation({
      mutationFn: ({ rigId, body }: { rigId: number; body: EntryBody }) =>
        answered(client.POST('/api/rigs/{rig_id}/journal', { params: { path: { rig_id: rigId } }, body })),
    }),
    correct: useMutation({
      mutationFn: ({ id, body }: { id: number; body: Schemas['EntryChange'] }) =>
        answered(client.PUT('/api/journal/{entry_id}', { params: { path: { entry_id: id } }, body })),
    }),
    takeOut: useMutation({
      mutationFn: (id: number) => answered(client.DELETE('/api/journal/{entry_id}', { params: { path: { entry_id: id } } })),
    }),
    bringBack: useMutation({
      mutationFn: (id: number) =>
        answered(client.POST('/api/journal/{entry_id}/bring-back', { params: { path: { entry_id: id } } })),
    }),
  }
}

/** For who needs them at one moment: what comes back is nobody's else, so that no change meanwhile takes it away. */
export const askCautions = (campaign_id: number) =>
  answered(client.GET('/api/campaigns/{campaign_id}/cautions', { params: { path: { campaign_id } } }))

export const useCautions = (campaignId: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['cautions', () => toValue(campaignId)],
    enabled: () => toValue(campaignId) > 0,
    queryFn: () => askCautions(toValue(campaignId)),
  })

export function useSayYes() {
  return useMutation({
    mutationFn: ({ campaignId, key }: { campaignId: number; key: string }) =>
      answered(
        client.POST('/api/campaigns/{campaign_id}/cautions', {
          params: { path: { campaign_id: campaignId } },
          body: { key },
        }),
      ),
  })
}

export const useOxygen = () =>
  useMutation({
    meta: UNCHANGED,
    mutationFn: (body: Schemas['OxygenIn']) => answered(client.POST('/api/sums/oxygen', { body })),
  })

export const useConnectors = () =>
  useMutation({
    meta: UNCHANGED,
    mutationFn: (body: Schemas['ConnectorsIn']) => answered(client.POST('/api/sums/connectors', { body })),
  })
