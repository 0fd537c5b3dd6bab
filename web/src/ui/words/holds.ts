/** Where a knob is stable, in words: the mark in a drawing, and the sentence below it. */
import type { ClimbView } from '../../api/climb'
import { hoursWords, knobValue, number } from './format'

const at = ({ hold, knob }: ClimbView): string => `${knobValue(hold, knob.stock)} ${knob.unit}`.trim()

export const holdMark = (climb: ClimbView): string => {
  if (climb.hold_state === 'nothing') return 'nothing holds yet'
  const stock = climb.hold === climb.knob.stock
  if (climb.hold_state === 'survived') return stock ? 'stock survived' : `${at(climb)} survived`
  return stock ? 'holds at stock only' : `holds to ${at(climb)}`
}

/** The same with what it rests on, without the full stop. */
export const holdSentence = (climb: ClimbView): string => {
  const often = `one failure in ${hoursWords(1 / climb.accepted_per_h)}`
  const wanted = number(climb.sure * 100, 0)
  if (climb.hold_state === 'sure') return `${climb.knob.name}: ${holdMark(climb)} (${often}, ${wanted} % sure)`
  if (climb.hold_state === 'nothing') return `${climb.knob.name}: ${holdMark(climb)}`
  return `${climb.knob.name}: ${holdMark(climb)}, ${number(climb.hold_chance * 100, 0)} % sure of ${often} (${wanted} % wanted)`
}
