import { describe, expect, it } from 'vitest'

import { type Campaign, testable } from '../api/campaigns'

describe('what a run can be made with', () => {
  it('is what is measured first, then what is proved with besides', () => {
    const campaign = { workloads: [{ id: 3 }, { id: 1 }], test_suite: [{ id: 7 }] } as unknown as Campaign
    expect(testable(campaign).map((one) => one.id)).toEqual([3, 1, 7])
  })
})
