/** Places for at most seven labels on a knob's own grid, from stock to the far end of its range. */
export function gridTicks(stock: number, end: number, step: number): number[] {
  const steps = Math.floor(Math.abs(end - stock) / step + 1e-9)
  const every = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000].find((stride) => steps / stride <= 6) ?? steps
  const towards = Math.sign(end - stock)
  return Array.from({ length: Math.floor(steps / every) + 1 }, (_, index) => stock + index * towards * every * step)
}

/** Numbers on axes as everywhere: no thousands comma, a thin space from 10 000 on, a true minus sign. Names stay as they are. */
export function axisNumber(value: number | string): string {
  if (typeof value === 'string') return value
  const [whole, part] = String(Math.abs(Number(value.toPrecision(10)))).split('.')
  const grouped = whole!.length > 4 ? whole!.replace(/\B(?=(\d{3})+$)/g, '\u2009') : whole!
  return `${value < 0 ? '−' : ''}${grouped}${part ? `.${part}` : ''}`
}
