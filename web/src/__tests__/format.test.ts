import { describe, expect, it } from 'vitest'

import {
  chance,
  exact,
  gain,
  gainRange,
  glued,
  knobValue,
  number,
  often,
  plain,
  scatter,
  share,
  signed,
  span,
} from '../ui/words/format'

describe('sentences', () => {
  it('keep a percent sign with its number', () => {
    expect(glued('99 % likely; 3 min')).toBe('99\u00a0% likely; 3 min')
    expect(glued(undefined)).toBe('')
  })
})

describe('numbers', () => {
  it('carry a true minus sign and a dash where there is none', () => {
    expect(number(-3.14159, 2)).toBe('−3.14')
    expect(number(null)).toBe('–')
    expect(number(undefined)).toBe('–')
    expect(exact(-0.005)).toBe('−0.005')
  })

  it.each([
    [8421.4, '8421'],
    [118.43, '118.4'],
    [93.678, '93.68'],
    [0.5342, '0.534'],
    [-25, '−25.00'],
  ])('%d shows as many decimals as its size carries', (value, text) => {
    expect(plain(value)).toBe(text)
    expect(scatter(0.3512, value)).toBe(`± ${(0.3512).toFixed(text.split('.')[1]?.length ?? 0)}`)
  })

  it('say ±0 for what rounds to nothing', () => {
    expect(signed(0.04)).toBe('±0')
    expect(signed(-0.04, 1)).toBe('±0.0')
    expect(signed(-1.26, 1)).toBe('−1.3')
  })
})

describe('failure rates', () => {
  it.each([
    [2.94, '2.9 an hour'],
    [1, '1.0 an hour'],
    [0.4, 'once in 2.5\u00a0h'],
    [0.02, 'once in 50\u00a0h'],
    [0.00001, 'less than once in 1000\u00a0h'],
    [400, 'at once'],
  ])('%d an hour is said as people say it', (rate, text) => expect(often(rate)).toBe(text))
})

describe('ratios', () => {
  it('become signed percentages on the screen only', () => {
    expect(gain(1.0412)).toBe('+4.1 %')
    expect(gain(0.97)).toBe('−3.0 %')
    expect(gain(1)).toBe('±0.0 %')
    expect(gainRange(1.035, 1.047)).toBe('+3.5 to +4.7 %')
  })

  it('and shares without a sign', () => {
    expect(share(0.00351)).toBe('0.35 %')
    expect(share(null)).toBe('–')
  })
})

describe('knobs and times', () => {
  it('offsets are signed, absolute values are not', () => {
    expect(knobValue(135, 0)).toBe('+135')
    expect(knobValue(-25, 0)).toBe('−25')
    expect(knobValue(0, 0)).toBe('0')
    expect(knobValue(120, 100)).toBe('120')
  })

  it('durations read as minutes and seconds', () => {
    expect(span(42.4)).toBe('42 s')
    expect(span(61)).toBe('1 min 01 s')
    expect(span(null)).toBe('–')
  })
})

describe('chances', () => {
  it('are never wholly sure', () => {
    expect([0.8999, 0.9].map(chance)).toEqual(['89 %', '90 %'])
    expect([0.9996, 0.994, 0.5, 0.004].map(chance)).toEqual(['more than 99 %', '99 %', '50 %', 'less than 1 %'])
  })
})
