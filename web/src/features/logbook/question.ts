/** What an address asks of the logbook. */
import type { LocationQuery } from 'vue-router'

import type { LogbookQuestion } from '../../api/logbook'

export const PAGE = 50

/** A word of the address; none where it is empty or said twice. */
export const wordOf = (query: LocationQuery, name: string): string | undefined =>
  typeof query[name] === 'string' && query[name] ? String(query[name]) : undefined

export function questionOf(query: LocationQuery): LogbookQuestion {
  const text = (name: string): string | undefined => wordOf(query, name)
  const whole = (name: string): number | undefined => (text(name) ? Number(text(name)) : undefined)
  const either = (name: string): boolean | undefined => (text(name) === 'yes' ? true : text(name) === 'no' ? false : undefined)
  /** A day as typed, as a moment in the reader's own zone. */
  const dayAt = (name: string, later = 0): string | undefined => {
    const typed = text(name)
    if (!typed) return undefined
    const day = new Date(`${typed}T00:00`)
    day.setDate(day.getDate() + later)
    return day.toISOString()
  }
  return {
    text: text('text'),
    rig_id: whole('rig'),
    campaign_id: whole('campaign'),
    workload_id: whole('workload'),
    setting_id: whole('setting'),
    outcome: text('outcome') as LogbookQuestion['outcome'],
    since: dayAt('since'),
    until: dayAt('until', 1),
    aside: either('aside'),
    with_log: either('log'),
    sort: text('sort') ?? 'started_at',
    falling: text('order') !== 'rising',
    start: ((whole('page') ?? 1) - 1) * PAGE,
    count: PAGE,
  }
}
