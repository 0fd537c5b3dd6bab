import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, formData, type Schemas } from './client'
import { APART, DECLARED, UNCHANGED } from './refresh'

export type DatabaseCopy = Schemas['CopyOut']
export type Contents = Schemas['ContentsOut']

/** Whether something can be stored now, and how much room there is; asked again every twenty seconds. */
export const useHealth = () =>
  useQuery({
    queryKey: ['health'],
    queryFn: () => answered(client.GET('/api/health')),
    refetchInterval: 20_000,
    ...APART,
  })

/** All copies; while one is being made, how far it is. */
export const useCopies = (working: MaybeRefOrGetter<boolean>) =>
  useQuery({
    queryKey: ['copies'],
    queryFn: () => answered(client.GET('/api/copies')),
    refetchInterval: () => (toValue(working) ? 500 : false),
  })

export function useMakeCopy() {
  const queries = useQueryClient()
  return useMutation({
    meta: UNCHANGED,
    mutationFn: () => answered(client.POST('/api/copies')),
    onSettled: () => void queries.invalidateQueries({ queryKey: ['copies'] }),
  })
}

export const useCopyContents = () =>
  useMutation({
    meta: UNCHANGED,
    mutationFn: (name: string) => answered(client.GET('/api/copies/{name}/contents', { params: { path: { name } } })),
  })

export function useRestore() {
  return useMutation({
    /** A copy of the folder by its name, or a file that is sent. */
    mutationFn: (which: string | File) =>
      typeof which === 'string'
        ? answered(client.POST('/api/copies/restore', { body: { name: which } }))
        : answered(
            client.POST('/api/copies/restore-file', { body: { file: '' }, bodySerializer: () => formData({ file: which }) }),
          ),
    meta: { changes: 'everything' },
  })
}

export const useCheckDatabase = () =>
  useMutation({ mutationFn: () => answered(client.POST('/api/database/check')), meta: UNCHANGED })

export const useLicences = () =>
  useQuery({ queryKey: ['licences'], queryFn: () => answered(client.GET('/api/licences')), ...DECLARED })
