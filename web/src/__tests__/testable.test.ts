import { describe, expect, it } from 'vitest'

import { type Campaign, testable } from '../api/campaigns'
import { quickLineWords } from '../words/quickLineWords'
import { outcomes } from '../words/outcomes'

describe('what a run can be made with', () => {
  it('is what is measured first, then what is proved with besides', () => {
    const campaign = { workloads: [{ id: 3 }, { id: 1 }], battery: [{ id: 7 }] } as unknown as Campaign
    expect(testable(campaign).map((one) => one.id)).toEqual([3, 1, 7])
  })
})

describe('the help on quick lines', () => {
  it('names a word for every way a run can end', () => {
    const words = quickLineWords.find(([what]) => what.startsWith('ok'))![0].split(' ')
    expect(words).toHaveLength(outcomes.length)
  })
})
