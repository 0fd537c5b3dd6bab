import { describe, expect, it } from 'vitest'

import type { Campaign } from '../api/campaigns'
import type { Build } from '../api/rigs'
import type { Starter } from '../api/starters'
import { emptyBuild, emptyWorkload, buildLike, withoutEmptyParts } from '../features/campaigns/drafts'
import { asCampaignIn, beginLike, beginWith, freshDraft, gaps, stepOf } from '../features/campaigns/newDraft'
import { useProblems } from '../composables/useProblems'
import { hueOf } from '../ui/hues'

describe('drafts of a campaign', () => {
  it('a part line left empty is no part', () => {
    const build = emptyBuild()
    build.parts[1]!.name = 'Processor of the tower'
    expect(withoutEmptyParts(build).parts).toEqual([{ role: 'Processor', name: 'Processor of the tower', specimen: '' }])
  })

  it('the next build starts from the present one, without its note', () => {
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
    } as Build
    const next = buildLike(present)
    expect(next).toMatchObject({ driver: '41.5', cooling: 'air', note: '' })
    next.parts[0]!.name = 'Two'
    expect(present.parts?.[0]?.name).toBe('One')
  })

  it('a new workload is a frame rate where higher is better', () => {
    expect(emptyWorkload()).toMatchObject({ measure: 'frame rate', unit: 'fps', higher_is_better: true, minutes: null })
  })
})

describe('a new campaign in steps', () => {
  const knob = { key: 'core', name: 'Core clock', unit: 'MHz', stock: 0, step: 15, low: -300, high: 300, away: 1 as const }
  const starter = {
    key: 'graphics card',
    name: 'A graphics card',
    says: '',
    goal: 'speed',
    parts: ['Graphics card'],
    knobs: [knob],
    workloads: [{ name: 'A title', measure: 'frame rate', unit: 'fps', higher_is_better: true, minutes: 3 }],
  } as unknown as Starter

  it('begins with what is usual, and keeps the names typed before', () => {
    const draft = { ...freshDraft(), name: 'Mine', rigName: 'Tower' }
    draft.build.parts[0]!.name = 'Card of the tower'
    beginWith(draft, starter)
    expect(draft).toMatchObject({ name: 'Mine', rigName: 'Tower', start: 'graphics card' })
    expect(draft.build.parts[0]!.name).toBe('Card of the tower')
    expect(gaps(draft)).toEqual([])
    const sent = asCampaignIn(draft)
    expect(sent.knobs).toHaveLength(1)
    expect(sent.rig?.name).toBe('Tower')
    draft.knobs[0]!.step = 30
    expect(starter.knobs[0]!.step).toBe(15)
  })

  it('like an earlier campaign takes its rig and its workloads', () => {
    const draft = freshDraft()
    beginLike(draft, {
      id: 7,
      goal: 'efficiency',
      aim: '',
      rig_id: 3,
      knobs: [knob, { ...knob, key: 'old', retired: true }],
      workloads: [{ id: 11 }, { id: 12 }],
    } as unknown as Campaign)
    expect(asCampaignIn({ ...draft, name: 'Again' })).toMatchObject({
      rig_id: 3,
      rig: null,
      workload_ids: [11, 12],
      workloads: [],
    })
    expect(draft.knobs.map((one) => one.key)).toEqual(['core'])
  })

  it('a problem leads to the step that holds its field', () => {
    const where = (name: string) => stepOf({ where: name, what: '', todo: '' })
    expect([where('name'), where('rig.name'), where('knobs.0.step'), where('knobs'), where('workloads.1.name')]).toEqual([
      'what',
      'rig',
      'knobs',
      'knobs',
      'workloads',
    ])
    expect(gaps(freshDraft()).map((one) => one.where)).toEqual(['name', 'rig.name', 'workloads.0.name', 'workloads.0.minutes'])
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
