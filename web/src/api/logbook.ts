import { keepPreviousData, type QueryClient, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type LoggedRun = Schemas['LoggedRun']

/** What is asked of the logbook; what is left out lets everything through. */
export interface LogbookQuestion {
  text?: string
  rig_id?: number
  campaign_id?: number
  workload_id?: number
  setting_id?: number
  outcome?: LoggedRun['outcome']
  since?: string
  until?: string
  aside?: boolean
  with_log?: boolean
  sort?: string
  falling?: boolean
  start?: number
  count?: number
}

/** What the server takes where nothing is said. It tells the browser to ask for that with the page, by the bare address. */
const USUAL: LogbookQuestion = { sort: 'started_at', falling: true, start: 0, count: 50 }
const said = (question: LogbookQuestion): LogbookQuestion =>
  Object.fromEntries(
    Object.entries(question).filter(([name, value]) => value !== undefined && USUAL[name as keyof LogbookQuestion] !== value),
  )

const fetchLogbook = (question: LogbookQuestion) =>
  answered(client.GET('/api/logbook', { params: { query: said(question) as never } }))

export const useLogbook = (question: MaybeRefOrGetter<LogbookQuestion>) =>
  useQuery({
    queryKey: ['logbook', () => toValue(question)],
    queryFn: () => fetchLogbook(toValue(question)),
    placeholderData: keepPreviousData,
  })

/** Asks for a page that is about to be shown, so that the answer comes while the page is still being put together. */
export const askAhead = (queries: QueryClient, question: LogbookQuestion): void =>
  void queries.prefetchQuery({ queryKey: ['logbook', question], queryFn: () => fetchLogbook(question) })

/** The address of what is shown as CSV. */
export function csvAddress(question: LogbookQuestion, columns: string[]): string {
  const query = new URLSearchParams()
  for (const [name, value] of Object.entries(question))
    if (value !== undefined && name !== 'start' && name !== 'count') query.set(name, String(value))
  query.set('columns', columns.join(','))
  return `/api/logbook.csv?${query.toString()}`
}
