/** Places for at most seven labels on a knob's own grid, from stock to the far end of its range. */
export function gridTicks(stock: number, end: number, step: number): number[] {
  const steps = Math.floor(Math.abs(end - stock) / step + 1e-9)
  const every = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000].find((stride) => steps / stride <= 6) ?? steps
  const towards = Math.sign(end - stock)
  return Array.from({ length: Math.floor(steps / every) + 1 }, (_, index) => stock + index * towards * every * step)
}
