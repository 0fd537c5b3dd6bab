/** Places on one axis, in pixels, moved on just so far that neighbours are at least so far apart; each at its own index. */
export function apart(places: number[], least: number): number[] {
  const moved = [...places]
  let last = -Infinity
  for (const index of places.map((_, k) => k).sort((a, b) => places[a]! - places[b]!)) {
    last = moved[index] = Math.max(places[index]!, last + least)
  }
  return moved
}
