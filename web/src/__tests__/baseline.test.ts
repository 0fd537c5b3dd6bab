import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import { openLiveKey, openRunFormKey } from '../composables/useStageCampaign'
import BaselineWorkload from '../features/baseline/BaselineWorkload.vue'

const fact = (id: number, value: number) => ({ id, value, outcome: 'completed', set_aside: false })
const shown = (every: number, loaded: number) => {
  const runs = Array.from({ length: every }, (_, k) => fact(k + 1, k ? 93 + (k % 3) / 10 : 88.2))
  const baseline = { workload_id: 1, runs, suspect_id: 1, cards: [], power: {}, missing_runs: 0, meter: null, summary: null }
  const workload = { id: 1, name: 'Gorge', unit: 'fps', minutes: 2, options_in_words: '' }
  return mount(BaselineWorkload, {
    props: { baseline, workload, runs: runs.slice(-loaded), stockId: 1, simulator: false } as never,
    global: {
      stubs: { RepeatsChart: true, RunTable: true },
      provide: { [openRunFormKey as symbol]: () => undefined, [openLiveKey as symbol]: () => undefined },
    },
  }).text()
}

describe('a workload with more stock runs than are shown at once', () => {
  it('still names the first one that does not fit, and says how many there are', () => {
    const text = shown(240, 200)
    expect(text).toContain('The first run, 88.20 fps, does not fit the others')
    expect(text).toContain('The last 200 of 240 runs')
  })

  it('says nothing of it where all are shown', () => {
    expect(shown(3, 3)).toContain('The 3 runs')
  })
})
