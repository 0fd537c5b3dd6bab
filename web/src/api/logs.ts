import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, asJson, client, formData, type Schemas } from './client'
import { DECLARED, UNCHANGED, refresh } from './refresh'

export type LogPreview = Schemas['LogPreview']
export type LogChoice = Schemas['LogChoice']
export type LogCheck = Schemas['LogCheck']
export type ChannelPoints = Schemas['ChannelPoints']

export const useLogOptions = () =>
  useQuery({ queryKey: ['log options'], queryFn: () => answered(client.GET('/api/logs/options')), ...DECLARED })

export interface PreviewInput {
  file: File
  separator?: string | null
  decimal?: string | null
  runId: number
  tuned?: string
}

export const usePreviewLog = () =>
  useMutation({
    meta: UNCHANGED,
    mutationFn: ({ file, separator, decimal, runId, tuned }: PreviewInput) =>
      answered(
        client.POST('/api/logs/preview', {
          body: { file: '' },
          bodySerializer: () =>
            formData({ file, separator: separator ?? '', decimal: decimal ?? '', run_id: String(runId), tuned: tuned ?? '' }),
        }),
      ),
  })

export interface LogInput {
  runId: number
  file: File
  choice: LogChoice
  takeOver: string[]
  store: boolean
  sure: boolean
}

/** Reads the log as chosen; with `store` it is kept beside its run. */
export function useAddLog() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ runId, file, choice, takeOver, store, sure }: LogInput) =>
      answered(
        client.POST('/api/runs/{run_id}/logs', {
          params: { path: { run_id: runId } },
          body: { file: '', choice: '', take_over: '', store, sure },
          bodySerializer: () => formData({ file, choice: asJson(choice) as string, take_over: takeOver.join(','), store, sure }),
        }),
      ),
    // a check stores nothing
    meta: UNCHANGED,
    onSuccess: (check) => void (check.stored && refresh(queries)),
  })
}

export type FigureSource = Schemas['FigureSource']

/** Where each figure of a run that came from a log is in it. */
export const useFigureSources = (runId: MaybeRefOrGetter<number>, wanted: MaybeRefOrGetter<boolean>) =>
  useQuery({
    queryKey: ['runs', () => toValue(runId), 'log figures'],
    queryFn: () => answered(client.GET('/api/runs/{run_id}/log-figures', { params: { path: { run_id: toValue(runId) } } })),
    enabled: () => toValue(wanted),
  })

/** Rows of a kept log from one row on, as they stood in the file. */
export const useLogRows = (seriesId: MaybeRefOrGetter<number>, firstRow: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['series', () => toValue(seriesId), 'rows', () => toValue(firstRow)],
    queryFn: () =>
      answered(
        client.GET('/api/series/{series_id}/rows', {
          params: { path: { series_id: toValue(seriesId) }, query: { first_row: toValue(firstRow), most: ROWS } },
        }),
      ),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  })

export const ROWS = 25

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
