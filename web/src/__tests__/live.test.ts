import { useQuery, VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h, nextTick } from 'vue'

import type { SafetyLimit } from '../api/live'
import { client } from '../api/client'
import { isNews } from '../api/ends'
import { isBusy, type Live, type Queue, useEndsOfRuns, useQueue, useQueueResults, useStartLive } from '../api/live'
import { reading } from '../ui/words/format'
import { stripsOf } from '../features/live/strips'
import { declare } from './declared'
import { joined, type News, type Points, useLiveStream } from '../features/live/useLiveStream'

const channel = (name: string, quantity: string, time_s = [0, 1], values = [1, 2]): Points => ({
  name,
  quantity,
  unit: 'W',
  time_s,
  values,
})
const safetyLimit = (kind: SafetyLimit['kind'], limit: number, where = ''): SafetyLimit => ({ kind, limit, channel: where })

describe('strips of a live run', () => {
  beforeEach(declare)

  const points = [
    channel('board', 'power'),
    channel('wall', 'power'),
    channel('die', 'temperature'),
    channel('sink', 'temperature'),
    channel('card', 'core clock'),
    channel('chip', 'core clock'),
  ]

  it('never put two measuring points or two chips on one scale, but temperatures together', () => {
    const strips = stripsOf(points, [])
    expect(strips.map((strip) => strip.name)).toEqual(['core clock', 'chip', 'temperature', 'power', 'wall'])
    expect(strips.find((strip) => strip.name === 'temperature')!.channels).toHaveLength(2)
    expect(strips.filter((strip) => strip.first).map((strip) => strip.name)).toEqual(['core clock', 'temperature', 'power'])
  })

  it('draw each safety limit where it is watched, and nowhere else', () => {
    const safetyLimits = [
      safetyLimit('power', 200),
      safetyLimit('power', 450, 'Wall'),
      safetyLimit('temperature', 80),
      safetyLimit('hours', 2),
      safetyLimit('voltage ceiling', 0, 'voltage'),
    ]
    const drawn = Object.fromEntries(stripsOf(points, safetyLimits).map((strip) => [strip.name, strip.safetyLimits]))
    expect(drawn).toEqual({ 'core clock': [], chip: [], temperature: [80], power: [200], wall: [450] })
  })
})

describe('readings that come in', () => {
  it('are put behind those that are there', () => {
    const [one] = joined([channel('a', 'power')], [channel('a', 'power', [2, 3], [5, 6])])
    expect(one!.time_s).toEqual([0, 1, 2, 3])
    expect(one!.values).toEqual([1, 2, 5, 6])
  })

  it('find their place when they come late', () => {
    const [one] = joined([channel('a', 'power', [0, 1, 4], [1, 2, 3])], [channel('a', 'power', [2, 3], [8, 9])])
    expect(one!.time_s).toEqual([0, 1, 2, 3, 4])
    expect(one!.values).toEqual([1, 2, 8, 9, 3])
  })

  it('may bring a channel that was not there', () => {
    expect(joined([channel('a', 'power')], [channel('b', 'fan')]).map((one) => one.name)).toEqual(['a', 'b'])
  })

  it('have the decimals of their unit', () => {
    declare()
    expect([
      reading(1.0321, 'V'),
      reading(2409.7, 'MHz'),
      reading(46.7, '°C'),
      reading(13.877, 'ms'),
      reading(null, 'W'),
    ]).toEqual(['1.032', '2410', '46.7', '13.88', '–'])
  })
})

/** A page that does nothing but what it is given to do. */
const visited = (act: () => void) =>
  mount(defineComponent({ setup: () => (act(), () => h('i')) }), { global: { plugins: [VueQueryPlugin] } })

/** What the browser would give: addresses that were opened, and a way to speak through the last. */
class Source {
  static all: Source[] = []
  closed = false
  heard: Record<string, ((event: unknown) => void)[]> = {}
  constructor(readonly address: string) {
    Source.all.push(this)
  }
  addEventListener(name: string, hear: (event: unknown) => void): void {
    ;(this.heard[name] ??= []).push(hear)
  }
  say(name: string, data?: News): void {
    this.heard[name]?.forEach((hear) => hear({ data: JSON.stringify(data) }))
  }
  close(): void {
    this.closed = true
  }
}

const news = (cursor: number, time: number[], state: News['standing']['state'] = 'open'): News => ({
  cursor,
  points: [channel('a', 'power', time, time)],
  standing: {
    state,
    outcome: 'connection lost',
    phase: '',
    elapsed_s: 1,
    planned_s: 9,
    left_s: 8,
    left_real_s: 8,
    limiter: { what: 'heat', why: '' },
  },
})

describe('the line to a live run', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    vi.stubGlobal('EventSource', Source)
    Source.all = []
  })
  afterEach(() => {
    page.unmount()
    vi.useRealTimers()
    vi.unstubAllGlobals()
  })

  let page: ReturnType<typeof visited>
  const watch = () => {
    let stream!: ReturnType<typeof useLiveStream>
    page = visited(() => (stream = useLiveStream(7)))
    return { stream }
  }

  it('goes on from where it broke off, without a gap and without a repeat', () => {
    const { stream } = watch()
    Source.all[0]!.say('open')
    Source.all[0]!.say('news', news(5, [0, 1]))
    expect(stream.connected.value).toBe(true)
    Source.all[0]!.say('error')
    expect(stream.connected.value).toBe(false)
    vi.advanceTimersByTime(2_000)
    expect(Source.all[1]!.address).toBe('/api/runs/7/stream?after=5')
    Source.all[1]!.say('news', news(6, [2]))
    expect(stream.points.value[0]!.time_s).toEqual([0, 1, 2])
  })

  it('ends with the run and is not opened again', () => {
    watch()
    Source.all[0]!.say('news', news(5, [0], 'ended'))
    Source.all[0]!.say('error')
    vi.advanceTimersByTime(10_000)
    expect(Source.all).toHaveLength(1)
    expect(Source.all[0]!.closed).toBe(true)
  })

  it('asks for the whole anew, thinned, before a page holds too much', () => {
    const { stream } = watch()
    Source.all[0]!.say(
      'news',
      news(
        5,
        Array.from({ length: 4_100 }, (_, i) => i),
      ),
    )
    expect(Source.all[1]!.address).toBe('/api/runs/7/stream?after=0')
    expect(stream.points.value).toEqual([])
  })

  it('is let go by a page in the background, which catches up when it is looked at', async () => {
    const { stream } = watch()
    Source.all[0]!.say('news', news(5, [0, 1]))
    const look = async (how: DocumentVisibilityState): Promise<void> => {
      vi.spyOn(document, 'visibilityState', 'get').mockReturnValue(how)
      document.dispatchEvent(new Event('visibilitychange'))
      await nextTick()
    }
    await look('hidden')
    expect(Source.all[0]!.closed).toBe(true)
    vi.advanceTimersByTime(10_000)
    expect(Source.all).toHaveLength(1)
    await look('visible')
    expect(Source.all[1]!.address).toBe('/api/runs/7/stream?after=5')
    Source.all[1]!.say('news', news(6, [2], 'ended'))
    expect(stream.points.value[0]!.time_s).toEqual([0, 1, 2])
    await look('hidden')
    await look('visible')
    expect(Source.all).toHaveLength(2)
    vi.restoreAllMocks()
  })

  it('is closed with its page', () => {
    watch()
    page.unmount()
    expect(Source.all[0]!.closed).toBe(true)
  })
})

describe('the end of a run', () => {
  let open: Live[] = []
  const asked = vi.fn(() => Promise.resolve('advice'))
  const live = (run_id: number, state: News['standing']['state'] = 'open') =>
    ({ run_id, standing: news(1, [], state).standing }) as Live
  const answer = (data: unknown) => Promise.resolve({ data, response: new Response(null, { status: 200 }) }) as never

  beforeEach(() => {
    vi.useFakeTimers()
    open = []
    asked.mockClear()
    vi.spyOn(client, 'GET').mockImplementation(() => answer(open))
    vi.spyOn(client, 'POST').mockImplementation(() => answer(live(7)))
  })
  afterEach(() => {
    vi.useRealTimers()
    vi.restoreAllMocks()
  })

  const visit = async () => {
    let start!: ReturnType<typeof useStartLive>['mutateAsync']
    const page = visited(() => {
      useEndsOfRuns()
      useQuery({ queryKey: ['climb'], queryFn: asked, staleTime: Infinity })
      start = useStartLive().mutateAsync
    })
    await vi.advanceTimersByTimeAsync(50)
    return {
      page,
      begin: () => start({ campaignId: 1, body: { setting_id: 1, workload_id: 1, speed: 600, confirmation: '', minutes: null } }),
    }
  }

  it('brings fresh advice, even of a run too short to have been seen going on', async () => {
    const { page, begin } = await visit()
    expect(asked).toHaveBeenCalledTimes(1)
    await begin()
    await vi.advanceTimersByTimeAsync(50)
    expect(asked).toHaveBeenCalledTimes(2)
    await vi.advanceTimersByTimeAsync(20_000)
    expect(asked).toHaveBeenCalledTimes(2)
    page.unmount()
  })

  it('is noticed on any page, as is a bench that falls silent', async () => {
    open = [live(8), live(9)]
    const { page } = await visit()
    await vi.advanceTimersByTimeAsync(10_000)
    expect(asked).toHaveBeenCalledTimes(1)
    open = [live(8, 'lost'), live(9)]
    await vi.advanceTimersByTimeAsync(3_000)
    expect(asked).toHaveBeenCalledTimes(2)
    open = [live(8, 'lost')]
    await vi.advanceTimersByTimeAsync(3_000)
    expect(asked).toHaveBeenCalledTimes(3)
    page.unmount()
  })
})

describe('the queue', () => {
  const queue = (paused: boolean, ...states: Queue['items'][number]['state'][]): Queue => ({
    paused,
    speed: 60,
    waiting: 0,
    done: 0,
    left_s: null,
    items: states.map((state, id) => ({
      id,
      setting_title: 'stock',
      workload_name: 'Gorge',
      state,
      run_id: null,
      outcome: '',
      why: '',
    })),
  })

  it('is asked again only while something happens in it', () => {
    expect(isBusy(undefined)).toBe(false)
    expect(isBusy(queue(false, 'done', 'left out'))).toBe(false)
    expect(isBusy(queue(false, 'done', 'waiting'))).toBe(true)
    expect(isBusy(queue(true, 'done', 'waiting'))).toBe(false)
    expect(isBusy(queue(true, 'running', 'waiting'))).toBe(true)
  })

  it('brings fresh answers when a run of it is over, even one never seen going on', async () => {
    vi.useFakeTimers()
    let now = queue(false, 'done')
    const asked = vi.fn(() => Promise.resolve('candidates'))
    vi.spyOn(client, 'GET').mockImplementation(
      () => Promise.resolve({ data: now, response: new Response(null, { status: 200 }) }) as never,
    )
    let ask!: ReturnType<typeof useQueue>['refetch']
    const page = visited(() => {
      useQueueResults(1)
      ask = useQueue(1).refetch
      useQuery({ queryKey: ['keep'], queryFn: asked, staleTime: Infinity })
    })
    await vi.advanceTimersByTimeAsync(50)
    await ask()
    await vi.advanceTimersByTimeAsync(50)
    expect(asked).toHaveBeenCalledTimes(1)
    now = queue(false, 'done', 'waiting')
    await ask()
    await vi.advanceTimersByTimeAsync(50)
    expect(asked).toHaveBeenCalledTimes(1)
    now = queue(false, 'done', 'done')
    await ask()
    await vi.advanceTimersByTimeAsync(50)
    expect(asked).toHaveBeenCalledTimes(2)
    await vi.advanceTimersByTimeAsync(20_000)
    expect(asked).toHaveBeenCalledTimes(2)
    // one whose own line has told its end already brings nothing more
    isNews(12, 'ended')
    now = queue(false, 'done', 'done', 'done')
    now.items[2] = { ...now.items[2]!, run_id: 12, outcome: 'completed' }
    await ask()
    await vi.advanceTimersByTimeAsync(50)
    expect(asked).toHaveBeenCalledTimes(2)
    page.unmount()
    vi.useRealTimers()
    vi.restoreAllMocks()
  })
})
