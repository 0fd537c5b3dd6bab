import { useMutation, useQuery } from '@tanstack/vue-query'

import { answered, client, type Schemas } from './client'

export type Rig = Schemas['RigOut']
export type Build = Schemas['BuildOut']
export type BuildIn = Schemas['BuildIn']

export const useRigs = () => useQuery({ queryKey: ['rigs'], queryFn: () => answered(client.GET('/api/rigs')) })

export type KnownWorkload = Schemas['KnownWorkload']
/** Every workload there is, on whichever rig it was used. */
export const useWorkloads = () => useQuery({ queryKey: ['workloads'], queryFn: () => answered(client.GET('/api/workloads')) })

export function useAddBuild() {
  return useMutation({
    mutationFn: ({ rigId, body }: { rigId: number; body: BuildIn }) =>
      answered(client.POST('/api/rigs/{rig_id}/builds', { params: { path: { rig_id: rigId } }, body })),
  })
}

/** Corrects how a workload was described, in every campaign. */
export function useCorrectWorkload() {
  return useMutation({
    mutationFn: ({ id, body }: { id: number; body: Schemas['WorkloadChange'] }) =>
      answered(client.PUT('/api/workloads/{workload_id}', { params: { path: { workload_id: id } }, body })),
  })
}

/** Another name for a rig. */
export function useRenameRig() {
  return useMutation({
    mutationFn: ({ id, name, was }: { id: number; name: string; was: string }) =>
      answered(client.PUT('/api/rigs/{rig_id}', { params: { path: { rig_id: id } }, body: { name, seen: { name: was } } })),
  })
}
