import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import OutcomeMark from '../parts/OutcomeMark.vue'
import { outcomes } from '../words/outcomes'

const shapes = (outcome: (typeof outcomes)[number]['outcome'], setAside = false): string =>
  mount(OutcomeMark, { props: { outcome, setAside } })
    .findAll('path')
    .map((path) => path.attributes('d'))
    .join(';')

describe('outcome marks', () => {
  it('are told apart by shape alone', () => {
    const drawn = outcomes.map((entry) => shapes(entry.outcome))
    expect(new Set(drawn).size).toBe(outcomes.length)
    expect(drawn.every((shape) => shape.length > 0)).toBe(true)
  })

  it('say in words what they mean, for those who cannot see them', () => {
    for (const entry of outcomes) {
      const mark = mount(OutcomeMark, { props: { outcome: entry.outcome } })
      expect(mark.attributes('aria-label')).toBe(entry.short)
    }
    expect(mount(OutcomeMark, { props: { outcome: 'completed', setAside: true } }).attributes('aria-label')).toBe(
      'Completed, set aside',
    )
  })

  it('are struck through when a run is set aside', () => {
    expect(shapes('completed', true)).not.toBe(shapes('completed'))
  })

  it('have a key each', () => {
    expect(new Set(outcomes.map((entry) => entry.key)).size).toBe(outcomes.length)
  })
})
