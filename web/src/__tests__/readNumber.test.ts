import { describe, expect, it } from 'vitest'

import { readNumber } from '../ui/words/readNumber'

describe('a typed number', () => {
  it.each([
    ['93.5', 93.5],
    ['93,5', 93.5],
    [' 8421 ', 8421],
    ['-25', -25],
    ['−25', -25],
    ['–25', -25],
    ['+135', 135],
    ['.5', 0.5],
    [',5', 0.5],
    ['12.', 12],
    ['1,234.5', 1234.5],
    ['8 421', 8421],
    ['1.234', 1.234],
    ['0,125', 0.125],
  ])('%s is read', (typed, value) => expect(readNumber(typed)).toBe(value))

  it.each(['abc', '1.2.3', '12 W', '1e5', '1,234,5', '1,234', '8 42', '--3', '.', '+'])('%s is refused, not guessed', (typed) =>
    expect(readNumber(typed)).toBeUndefined(),
  )

  it.each(['', '   '])('nothing is nothing, not zero', (typed) => expect(readNumber(typed)).toBeNull())
})
