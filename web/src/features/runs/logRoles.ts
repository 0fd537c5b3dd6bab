import type { LogChoice } from '../../api/logs'

export const LEFT_OUT = 'leave out'
export const TIME = 'time'
export const FRAME = 'time per frame'

/** What a column is taken for: the time, the time per frame, a quantity, or left out. */
export function roleOf(choice: LogChoice, header: string): string {
  if (choice.kind === 'frames') return choice.frame_column === header ? FRAME : LEFT_OUT
  if (choice.time_column === header || choice.date_column === header) return TIME
  return choice.columns.find((column) => column.header === header)?.quantity ?? LEFT_OUT
}
