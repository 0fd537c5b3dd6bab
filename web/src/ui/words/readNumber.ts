/** One comma before exactly three digits: between thousands, or before decimals? */
export const hasTwoReadings = (typed: string): boolean => /^[+\-−–]?[1-9]\d{0,2},\d{3}$/.test(typed.trim())

/**
 * Reads a number with a decimal point or comma, thousands separated by spaces or (before a decimal point) commas, and any kind of
 * minus sign; null for nothing, undefined for what is not a number or could be two.
 */
export function readNumber(typed: string): number | null | undefined {
  const trimmed = typed.trim().replace(/[−–]/g, '-')
  if (trimmed === '') return null
  if (hasTwoReadings(trimmed)) return undefined
  const grouped = /^[+-]?\d{1,3}(,\d{3})+\.\d+$/.test(trimmed) ? trimmed.replace(/,/g, '') : trimmed.replace(',', '.')
  const plain = /^[+-]?\d{1,3}([ \u00a0\u202f]\d{3})+(\.\d+)?$/.test(grouped) ? grouped.replace(/\s/g, '') : grouped
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(plain) ? Number(plain) : undefined
}
