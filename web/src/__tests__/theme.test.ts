import { describe, expect, it } from 'vitest'

import { choice, colours } from '../composables/theme'

/** Relative luminance and contrast as WCAG 2 defines them. */
function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const part = parseInt(hex.slice(at, at + 2), 16) / 255
    return part <= 0.03928 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4
  }) as [number, number, number]
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}
const contrast = (a: string, b: string): number => {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number]
  return (light + 0.05) / (dark + 0.05)
}

describe.each(['light', 'dim'] as const)('the %s theme', (name) => {
  it.each(['ink', 'quiet', 'petrol', 'orange', 'ochre', 'moss', 'plum'] as const)(
    'shows %s with AA contrast on every ground',
    (colour) => {
      choice.value = name
      const c = colours.value
      for (const ground of [c.ground, c.sheet, c.wash]) expect(contrast(c[colour], ground)).toBeGreaterThanOrEqual(4.5)
    },
  )
})
