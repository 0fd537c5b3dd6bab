import type { ClimbView } from '../api/climb'

/** The nearest two rows of the drawing may come, in pixels, before the less important one is drawn as a bare setting. */
export const ROW = 17

/** How far the drawing reaches from stock, in the knob's unit: all that was tried, the next test, and where the edge may lie. */
export function reachOf(climb: ClimbView, next: number | undefined): number {
  const { knob } = climb
  const away = (value: number): number => (value - knob.stock) * knob.away
  const range = away(knob.away === 1 ? knob.high : knob.low)
  const seen = [climb.tested_to, climb.hold, next ?? knob.stock, ...climb.trials.map((trial) => trial.value)].map(away)
  const far = Math.max(
    6 * knob.step,
    Math.min(climb.edge_far == null ? range : away(climb.edge_far), 2.5 * Math.max(...seen, knob.step)),
    ...seen,
  )
  return Math.min(range, far + knob.step)
}

/** Which of some rows are drawn in full: the important first, and none nearer than a row's height to one that is there. */
export function inFull(rows: { id: number; y: number; weight: number }[], least = ROW): Set<number> {
  const shown: { id: number; y: number }[] = []
  for (const row of [...rows].sort((a, b) => b.weight - a.weight || b.y - a.y)) {
    if (shown.every((one) => Math.abs(one.y - row.y) >= least)) shown.push(row)
  }
  return new Set(shown.map((row) => row.id))
}
