/** Reads a number with a decimal point or comma and any kind of minus sign; null for nothing, undefined for no number. */
export function readNumber(typed: string): number | null | undefined {
  const trimmed = typed.trim().replace(/[−–]/g, '-').replace(',', '.')
  if (trimmed === '') return null
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(trimmed) ? Number(trimmed) : undefined
}
