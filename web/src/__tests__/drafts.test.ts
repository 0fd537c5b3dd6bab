import { describe, expect, it } from 'vitest'

import type { Fitting } from '../api/rigs'
import { emptyFitting, emptyWorkload, fittingLike, usualKnobs, withoutEmptyParts } from '../campaigns/drafts'
import { useProblems } from '../composables/useProblems'
import { hueOf } from '../parts/hues'

describe('drafts of a campaign', () => {
  it('a part line left empty is no part', () => {
    const fitting = emptyFitting()
    fitting.parts[1]!.name = 'Processor of the tower'
    expect(withoutEmptyParts(fitting).parts).toEqual([{ role: 'Processor', name: 'Processor of the tower', specimen: '' }])
  })

  it('the next fitting starts from the present one, without its note', () => {
    const present = {
      id: 3,
      number: 2,
      since: '',
      parts: [{ role: 'Card', name: 'One', specimen: 'A' }],
      cooling: 'air',
      enclosure: 'case',
      driver: '41.5',
      firmware: '',
      system: '',
      note: 'dust taken out',
    } as Fitting
    const next = fittingLike(present)
    expect(next).toMatchObject({ driver: '41.5', cooling: 'air', note: '' })
    next.parts[0]!.name = 'Two'
    expect(present.parts?.[0]?.name).toBe('One')
  })

  it('the usual knobs that have numbers hold together', () => {
    for (const knob of Object.values(usualKnobs)) {
      if (knob.stock === null || knob.low === null || knob.high === null || knob.step === null) continue
      expect(knob.low).toBeLessThanOrEqual(knob.stock)
      expect(knob.stock).toBeLessThanOrEqual(knob.high)
      expect(knob.step).toBeGreaterThan(0)
      expect(knob.away === 1 ? knob.high : knob.low).not.toBe(knob.stock)
      expect(knob.key).toMatch(/^[a-z]+$/)
    }
  })

  it('a new workload is a frame rate where higher is better', () => {
    expect(emptyWorkload()).toMatchObject({ measure: 'frame rate', unit: 'fps', higher_is_better: true, minutes: null })
  })
})

describe('problems', () => {
  it('stand at the field they name, and can be cleared', () => {
    const { problems, at, clear } = useProblems()
    problems.value = [{ where: 'knobs.0.step', what: 'Too large.', todo: 'Type less.' }]
    expect(at('knobs.0.step')).toBe('Too large. Type less.')
    expect(at('knobs.1.step')).toBeUndefined()
    clear()
    expect(problems.value).toEqual([])
  })
})

describe('hues', () => {
  it('are the same for the same setting, and differ among neighbours', () => {
    expect(hueOf(7)).toBe(hueOf(7))
    expect(new Set(Array.from({ length: 24 }, (_, id) => hueOf(id))).size).toBe(24)
  })
})
