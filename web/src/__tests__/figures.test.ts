import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import type { Verdict } from '../api/compare'
import type { Comparison } from '../api/ladder'
import GainWhisker from '../charts/GainWhisker.vue'
import GainFigure from '../ui/GainFigure.vue'
import StateMark from '../ui/StateMark.vue'
import VerdictMark from '../ui/VerdictMark.vue'

const gain = (ratio: number, low: number | null, high: number | null) => ({ ratio, low, high }) as unknown as Comparison

describe('a gain', () => {
  it('shows its interval, and colour only beside a sign', () => {
    const shown = mount(GainFigure, { props: { gain: gain(1.041, 1.035, 1.047) } })
    expect(shown.text()).toContain('+4.1 %')
    expect(shown.text()).toContain('+3.5 to +4.7 %')
    expect(shown.find('strong').classes()).toContain('gain')
  })

  it.each([
    [0.96, 0.95, 0.97, 'loss'],
    [1.003, 0.998, 1.008, ''],
  ])('of %d is coloured by its whole interval', (ratio, low, high, side) => {
    const classes = mount(GainFigure, { props: { gain: gain(ratio, low, high) } })
      .find('strong')
      .classes()
      .join('')
    expect(classes).toBe(side)
  })

  it('without known noise says so instead of an interval', () => {
    expect(mount(GainFigure, { props: { gain: gain(1.04, null, null) } }).text()).toContain('noise unknown')
  })

  it('that is not there shows nothing', () => {
    expect(mount(GainFigure, { props: { gain: null } }).text()).toBe('')
  })
})

describe('a whisker', () => {
  const whisker = (one: Comparison | null) => mount(GainWhisker, { props: { gain: one, low: 0.95, high: 1.15 } })

  it('is readable without seeing it', () => {
    expect(whisker(gain(1.05, 1.04, 1.06)).attributes('aria-label')).toBe('+5.0 %, +4.0 to +6.0 %')
    expect(whisker(null).attributes('aria-label')).toBe('no gain known')
  })

  it('stands where its ratio stands on the axis', () => {
    const mean = whisker(gain(1.05, 1.04, 1.06)).find('.mean')
    expect(Number(mean.attributes('x1'))).toBeCloseTo(120, 6)
    const stock = whisker(null).find('.stock')
    expect(Number(stock.attributes('x1'))).toBeCloseTo(60, 6)
  })

  it('has no bar without an interval', () => {
    expect(
      whisker(gain(1.05, null, null))
        .find('.bar')
        .exists(),
    ).toBe(false)
  })
})

describe('marks', () => {
  const verdict = (word: Verdict['word'], more_runs: number | null = 0): Verdict => ({
    word,
    reason: { code: 'no_repeats', params: {}, text: 'Because.' },
    more_runs,
  })

  it('of verdicts differ in shape and carry their word and reason', () => {
    const words = ['gain', 'loss', 'tie', 'too few runs'] as const
    const drawn = words.map((word) => mount(VerdictMark, { props: { verdict: verdict(word) } }))
    expect(new Set(drawn.map((mark) => mark.find('path').attributes('d'))).size).toBe(4)
    drawn.forEach((mark, index) => expect(mark.text()).toContain(words[index]))
    expect(drawn[0]?.attributes('title')).toBe('Because.')
  })

  it('say how many runs would settle it', () => {
    expect(mount(VerdictMark, { props: { verdict: verdict('too few runs', 4) } }).text()).toContain('4 more each')
  })

  it('of stages are named', () => {
    const states = ['to do', 'under way', 'done', 'stale'] as const
    const drawn = states.map((state) => mount(StateMark, { props: { state } }))
    expect(drawn.map((mark) => mark.attributes('aria-label'))).toEqual([...states])
    expect(new Set(drawn.map((mark) => mark.html())).size).toBe(4)
  })
})
