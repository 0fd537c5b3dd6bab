import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, formData, type Schemas } from './client'
import { refresh } from './refresh'

export type LogPreview = Schemas['LogPreview']
export type LogChoice = Schemas['LogChoice']
export type LogCheck = Schemas['LogCheck']
export type ChannelPoints = Schemas['ChannelPoints']

export const useLogOptions = () =>
  useQuery({ queryKey: ['log options'], queryFn: () => answered(client.GET('/api/logs/options')), staleTime: Infinity })

export interface PreviewInput {
  file: File
  separator?: string | null
  decimal?: string | null
}

export const usePreviewLog = () =>
  useMutation({
    mutationFn: ({ file, separator, decimal }: PreviewInput) =>
      answered(
        client.POST('/api/logs/preview', {
          body: { file: '' },
          bodySerializer: () => formData({ file, separator: separator ?? '', decimal: decimal ?? '' }),
        }),
      ),
  })

export interface LogInput {
  runId: number
  file: File
  choice: LogChoice
  takeOver: string[]
  store: boolean
}

/** Reads the log as chosen; with `store` it is kept beside its run. */
export function useAddLog() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ runId, file, choice, takeOver, store }: LogInput) =>
      answered(
        client.POST('/api/runs/{run_id}/logs', {
          params: { path: { run_id: runId } },
          body: { file: '', choice: '', take_over: '', store },
          bodySerializer: () => formData({ file, choice: JSON.stringify(choice), take_over: takeOver.join(','), store }),
        }),
      ),
    onSuccess: (check) => void (check.stored && refresh(queries)),
  })
}

export interface Stretch {
  from_s: number
  to_s: number
}

/** Two to three for each column of dots of a chart: lowest and highest never fall between them. */
const POINTS = 1000

/** Points of a kept log; of a stretch of time, where one is given, with all the detail that fits. */
export const useSeries = (id: MaybeRefOrGetter<number>, stretch: MaybeRefOrGetter<Stretch | undefined>) =>
  useQuery({
    queryKey: ['series', () => toValue(id), () => toValue(stretch)],
    queryFn: () =>
      answered(
        client.GET('/api/series/{series_id}', {
          params: { path: { series_id: toValue(id) }, query: { most: POINTS, ...toValue(stretch) } },
        }),
      ),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  })
