import { describe, expect, it } from 'vitest'

import { asCsv } from '../ui/words/tables'

describe('a table as CSV', () => {
  it('keeps numbers bare and quotes what needs it', () => {
    const csv = asCsv(
      ['setting', 'mean fps', 'note'],
      [
        ['core +90, memory +300', 93.6, 'said "fine"'],
        ['stock', null, undefined],
      ],
    )
    expect(csv).toBe('setting,mean fps,note\n"core +90, memory +300",93.6,"said ""fine"""\nstock,,\n')
  })

  it.each(['=1+1', '+cmd', '-x', '@sum', '\tx', ' =1', '\n+1'])('makes %s harmless for a spreadsheet', (text) => {
    expect(asCsv(['a'], [[text]]).slice(2)).toContain(`'${text}`)
  })

  it('leaves negative numbers alone', () => {
    expect(asCsv(['a'], [[-3.5]])).toBe('a\n-3.5\n')
  })
})
