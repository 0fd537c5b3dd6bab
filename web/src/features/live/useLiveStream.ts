import { useQueryClient } from '@tanstack/vue-query'
import { useDocumentVisibility } from '@vueuse/core'
import { onScopeDispose, ref, shallowRef, watch } from 'vue'

import { isNews } from '../../api/ends'
import { refresh } from '../../api/refresh'
import { atLeisure } from '../../composables/atLeisure'

export interface Points {
  name: string
  quantity: string
  unit: string
  time_s: number[]
  values: number[]
}
export interface Standing {
  state: 'open' | 'lost' | 'ended'
  outcome: string
  phase: string
  elapsed_s: number
  planned_s: number
  left_s: number
  left_real_s: number
  limiter: { what: string; why: string }
}
export interface News {
  cursor: number
  points: Points[]
  standing: Standing
}

/** More points than this in one channel, and the whole is asked for again, thinned by the server. */
const MOST_POINTS = 4_000
const AGAIN_MS = 1_500

/** Readings put behind those that are there; times that are there already are not added twice. */
export function joined(known: Points[], news: Points[]): Points[] {
  const names = [...new Set([...known, ...news].map((channel) => channel.name))]
  return names.map((name) => {
    const before = known.find((channel) => channel.name === name)
    const after = news.find((channel) => channel.name === name)
    if (!before || !after) return (before ?? after)!
    const last = before.time_s.at(-1) ?? -1
    // a batch that came late lies before what is drawn already
    if ((after.time_s[0] ?? Infinity) > last)
      return { ...before, time_s: [...before.time_s, ...after.time_s], values: [...before.values, ...after.values] }
    const rows = [...zip(before), ...zip(after)].sort((a, b) => a[0] - b[0])
    return { ...before, time_s: rows.map((row) => row[0]), values: rows.map((row) => row[1]) }
  })
}

const zip = (channel: Points): [number, number][] => channel.time_s.map((time, index) => [time, channel.values[index]!])

/**
 * A live run as it comes in. Connects again by itself and goes on where it broke off. A page in the background closes
 * of the line and catches up when it is looked at: a browser grants one server six lines, and a bench each may be open.
 *
 *   const { points, standing, connected } = useLiveStream(runId)
 */
export function useLiveStream(runId: number) {
  const queries = useQueryClient()
  const points = shallowRef<Points[]>([])
  const standing = ref<Standing>()
  const connected = ref(false)
  const seen = useDocumentVisibility()
  let cursor = 0
  /** What has come in and is not drawn yet. */
  let waiting: Points[] = []
  let newest: Standing | undefined
  let source: EventSource | undefined
  let timer: ReturnType<typeof setTimeout> | undefined

  function open(): void {
    letGo()
    if (seen.value === 'hidden') return
    source = new EventSource(`/api/runs/${runId}/stream?after=${cursor}`)
    source.addEventListener('open', () => (connected.value = true))
    source.addEventListener('news', (event) => take(JSON.parse((event as MessageEvent<string>).data) as News))
    source.addEventListener('error', () => {
      connected.value = false
      // a server that is away, or that ended the stream: the browser gives up on some of these, so we do not rely on it
      source?.close()
      if (newest?.state !== 'ended') timer = setTimeout(open, AGAIN_MS)
    })
  }

  function letGo(): void {
    clearTimeout(timer)
    source?.close()
  }

  function take(news: News): void {
    const before = newest
    waiting = joined(waiting, news.points)
    cursor = news.cursor
    newest = news.standing
    draw()
    if (news.standing.state === 'ended') source?.close()
    // the page may have been opened on a run that ended before its first news came
    if (news.standing.state !== (before?.state ?? 'open')) {
      if (news.standing.state === 'open' || isNews(runId, news.standing.state)) void refresh(queries)
    } else if (before && before.phase !== news.standing.phase) void queries.invalidateQueries({ queryKey: ['live', runId] })
  }

  const draw = atLeisure(() => {
    points.value = joined(points.value, waiting)
    standing.value = newest
    waiting = []
    if (points.value.some((channel) => channel.time_s.length > MOST_POINTS)) {
      cursor = 0
      points.value = []
      open()
    }
  })

  open()
  watch(seen, (now) => {
    if (now === 'hidden') letGo()
    else if (newest?.state !== 'ended') open()
  })
  onScopeDispose(letGo)
  return { points, standing, connected }
}
