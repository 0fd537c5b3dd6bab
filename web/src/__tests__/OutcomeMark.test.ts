import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'

import { outcomes, type OutcomeFacts } from '../api/registry'
import OutcomeMark from '../ui/OutcomeMark.vue'
import { declare } from './declared'

const shapes = (outcome: OutcomeFacts['outcome'], setAside = false): string =>
  mount(OutcomeMark, { props: { outcome, setAside } })
    .findAll('path')
    .map((path) => path.attributes('d'))
    .join(';')

describe('outcome marks', () => {
  beforeEach(declare)

  it('are told apart by shape alone', () => {
    const drawn = outcomes.value.map((entry) => shapes(entry.outcome))
    expect(new Set(drawn).size).toBe(outcomes.value.length)
    expect(drawn.every((shape) => shape.length > 0)).toBe(true)
  })

  it('say in words what they mean, for those who cannot see them', () => {
    for (const entry of outcomes.value) {
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
})
