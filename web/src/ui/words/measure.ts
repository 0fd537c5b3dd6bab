import type { GoalMeasure } from '../../api/goal'
import { gain, number, signed } from './format'

/** What a setting is worth in the goal's own measure: "−11.2 %, −20 W", "−8.0 °C over room", "3 of 4 workloads". */
export function measureWords(measure: GoalMeasure): string {
  if (measure.unit === 'of') return `${number(measure.value, 0)} of ${measure.asked} workloads`
  if (measure.unit === '°C') return `${signed(measure.value, 1)} °C over room`
  if (measure.unit === 'dB(A)') return `${signed(measure.value, 1)} dB(A)`
  // a small part saves less than a watt
  const watts = measure.watts != null ? `, ${signed(measure.watts, Math.abs(measure.watts) < 10 ? 1 : 0)} W` : ''
  return gain(measure.value) + watts
}

/** Its 95 % interval, or an empty text where none is known. */
export function measureRange(measure: GoalMeasure): string {
  if (measure.low == null || measure.high == null) return ''
  if (measure.unit === '°C' || measure.unit === 'dB(A)')
    return `${signed(measure.low, 1)} to ${signed(measure.high, 1)} ${measure.unit}`
  return `${signed((measure.low - 1) * 100, 1)} to ${signed((measure.high - 1) * 100, 1)} %`
}
