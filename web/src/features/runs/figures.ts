/** A run's figures as tables and pages show them. */
import type { Run } from '../../api/runs'
import { number } from '../../ui/words/format'

export type FigureView = Run['figures'][number]

/** The reading of a figure by its word, as it counts: corrected where its instrument has a correction. */
export function read(run: Run, word: string): number | null {
  const found = run.figures.find((one) => one.word === word && !one.replaced && one.counts)
  return found ? (found.corrected ?? found.value) : null
}

/** Who read it, in words. */
export const readBy = (run: Run, word: string): string =>
  run.figures.find((one) => one.word === word && !one.replaced && one.counts)?.instrument ?? ''

/** A reading with its unit, and what its instrument's correction makes of it. */
export const inWords = (figure: FigureView): string =>
  `${number(figure.corrected ?? figure.value, figure.decimals)}${figure.half ? ` ± ${number(figure.half, figure.decimals)}` : ''} ${figure.unit}`.trim()

/** Where a reading comes from, and what has been done to it. */
export function origin(figure: FigureView): string {
  const source = { typed: 'typed', log: 'from the log', live: 'live' }[figure.source] ?? figure.source
  return [
    source,
    figure.instrument,
    figure.corrected != null ? `corrected; it read ${number(figure.value, figure.decimals)} ${figure.unit}` : '',
    figure.half ? '± is that of its correction' : '',
    figure.counts ? '' : 'does not count: its instrument was wrong then',
    figure.replaced ? 'replaced by the log' : '',
  ]
    .filter(Boolean)
    .join(', ')
}
