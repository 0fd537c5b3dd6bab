import { registry } from '../../api/registry'

/** Numbers and times as they are written on the screen. Nothing is computed here beyond the unit of a percentage. */

const MINUS = '−'

/** A number with a fixed count of decimals and a true minus sign; a dash where there is none. */
export function number(value: number | null | undefined, decimals = 1): string {
  if (value === null || value === undefined) return '–'
  return value.toFixed(decimals).replace('-', MINUS)
}

/** As many decimals as a value of this size carries: 8421, 118.4, 93.68, 0.534. */
export function plain(value: number | null | undefined): string {
  if (value === null || value === undefined) return '–'
  const size = Math.abs(value)
  return number(value, size >= 1000 ? 0 : size >= 100 ? 1 : size >= 1 ? 2 : 3)
}

/** How far values scatter, with as many decimals as their mean has: 91.52 ± 0.35, 8215 ± 43. */
export function scatter(sd: number, mean: number): string {
  return `± ${number(sd, plain(mean).split('.')[1]?.length ?? 0)}`
}

/** A reading with as many decimals as its unit carries; times of day and the like by their size. */
export function reading(value: number | null | undefined, unit: string): string {
  const decimals = registry.value.live.find((one) => one.unit === unit)?.decimals
  return decimals === undefined ? plain(value) : number(value, decimals)
}

/** A failure rate as people say it: once in so many hours, or so many an hour. */
export function often(perHour: number): string {
  if (perHour >= 60) return 'at once'
  if (perHour >= 1) return `${number(perHour, 1)} an hour`
  return perHour < 1e-3 ? 'less than once in 1000\u00a0h' : `once in ${number(1 / perHour, perHour > 0.1 ? 1 : 0)}\u00a0h`
}

/** A number as typed: no zeros added, none lost. */
export function exact(value: number): string {
  return String(value).replace('-', MINUS)
}

/** A time in which one failure is accepted: 50 h, 6 min. */
export function hoursWords(hours: number): string {
  return hours < 1 ? `${number(60 * hours, 0)} min` : `${Number(hours.toFixed(2))} h`
}

/** A ratio as a signed percentage: 1.0412 is +4.1 %. */
export function gain(ratio: number, decimals = 1): string {
  return `${signed((ratio - 1) * 100, decimals)} %`
}

/** An interval of ratios: +3.5 to +4.7 %. */
export function gainRange(low: number, high: number, decimals = 1): string {
  return `${signed((low - 1) * 100, decimals)} to ${signed((high - 1) * 100, decimals)} %`
}

/** A signed number; what rounds to zero is ±0. */
export function signed(value: number, decimals = 0): string {
  const text = Math.abs(value).toFixed(decimals)
  if (Number(text) === 0) return `±${text}`
  return (value > 0 ? '+' : MINUS) + text
}

/** A share as a percentage: 0.0035 is 0.35 %. */
export function share(value: number | null | undefined, decimals = 2): string {
  return value === null || value === undefined ? '–' : `${number(value * 100, decimals)} %`
}

/** A knob's value as on a setting: signed where stock is zero. */
export function knobValue(value: number, stock: number): string {
  return stock === 0 && value > 0 ? `+${exact(value)}` : exact(value)
}

/** Date and time in the reader's own zone. */
export function moment(iso: string): string {
  return new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' }).format(new Date(iso))
}

export function day(iso: string): string {
  return new Intl.DateTimeFormat(undefined, { dateStyle: 'medium' }).format(new Date(iso))
}

/** The time of day, in the reader's own zone. */
export function clock(iso: string): string {
  return new Intl.DateTimeFormat(undefined, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }).format(new Date(iso))
}

/** Minutes as people say them: 42 min, 2 h 05 min. */
export function minutesWords(minutes: number): string {
  const whole = Math.round(minutes)
  return whole < 60 ? `${whole} min` : `${Math.floor(whole / 60)} h ${String(whole % 60).padStart(2, '0')} min`
}

/** Seconds as minutes and seconds. */
export function span(seconds: number | null | undefined): string {
  if (seconds === null || seconds === undefined) return '–'
  const whole = Math.round(seconds)
  return whole < 60 ? `${whole} s` : `${Math.floor(whole / 60)} min ${String(whole % 60).padStart(2, '0')} s`
}

/** Who read the watts: an instrument by its name, with a word where its correction is in them, else the measuring point. */
export function readByWords(power: { instrument?: string; corrected?: boolean; point?: string | null }): string {
  const by = power.instrument || pointWords[power.point ?? 'unknown'] || ''
  return power.corrected ? `${by}, corrected` : by
}

/** Mean watts with their unit, and what is not known of their instrument's correction where it is not exact. */
export function wattsWords(power: { mean_w?: number | null; half_w?: number }): string {
  if (power.mean_w === null || power.mean_w === undefined) return '–'
  return `${number(power.mean_w, 0)}${halfWords(power.half_w, (power.half_w ?? 0) < 10 ? 1 : 0)} W`
}

/** " ± 4" with as many decimals as the number before it has; nothing where that is nothing. */
export function halfWords(half?: number | null, decimals = 0): string {
  const said = number(half ?? 0, decimals)
  return Number(said) === 0 ? '' : ` ± ${said}`
}

const pointWords: Record<string, string> = {
  software: 'by the part’s own report',
  cables: 'clamp on the cables',
  wall: 'meter at the wall',
  unknown: 'measuring point not noted',
}

/** So many of a thing whose plural takes an s: "1 run", "4 runs". */
export const counted = (count: number, thing: string): string => `${count} ${thing}${count === 1 ? '' : 's'}`

/** The same text with a capital, or a small letter, at its start. */
export const capital = (text: string | undefined): string => (text ? text.charAt(0).toUpperCase() + text.slice(1) : '')
export const lowered = (text: string | undefined): string => (text ? text.charAt(0).toLowerCase() + text.slice(1) : '')

/** A sentence in which no percent sign stands apart from its number at the end of a line. */
export const glued = (text: string | undefined): string => (text ?? '').replace(/(\d) %/g, '$1\u00a0%')

/** A chance in whole percent, rounded down: what is not 90 % sure is not said to be, and nothing is wholly sure. */
export const chance = (share: number): string =>
  share >= 0.995 ? 'more than 99 %' : share < 0.01 ? 'less than 1 %' : `${number(Math.floor(100 * share + 1e-9), 0)} %`
