import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'

import { useDownload } from '../composables/useDownload'

const used = () => {
  let found!: ReturnType<typeof useDownload>
  const page = mount(defineComponent({ setup: () => ((found = useDownload()), () => h('i')) }))
  return { ...found, page }
}

describe('a file that takes the server a while', () => {
  let pushed!: ReadableStreamDefaultController<Uint8Array>
  let answer!: (response: Response) => void
  const saved: { name: string; size: number }[] = []

  beforeEach(() => {
    vi.useFakeTimers()
    saved.length = 0
    vi.stubGlobal(
      'fetch',
      vi.fn(() => new Promise<Response>((resolve) => (answer = resolve))),
    )
    let last: Blob
    URL.createObjectURL = vi.fn((blob: Blob) => ((last = blob), 'blob:here'))
    URL.revokeObjectURL = vi.fn()
    vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
      saved.push({ name: this.download, size: last.size })
    })
  })
  afterEach(() => {
    vi.useRealTimers()
    vi.unstubAllGlobals()
    vi.restoreAllMocks()
  })

  it('says how long it is put together, then how much has arrived, and is saved under its name', async () => {
    const { said, trouble, download, page } = used()
    const done = download('/api/archive.zip')
    void download('/api/archive.zip')
    expect(fetch).toHaveBeenCalledTimes(1)
    await vi.advanceTimersByTimeAsync(3_000)
    expect(said.value).toBe('Putting it together, 3 s')
    const body = new ReadableStream<Uint8Array>({ start: (controller) => void (pushed = controller) })
    const headers = { 'content-length': '3000000', 'content-disposition': 'attachment; filename="trelvo.zip"' }
    answer(new Response(body, { headers }))
    pushed.enqueue(new Uint8Array(1_500_000))
    await vi.advanceTimersByTimeAsync(600)
    expect(said.value).toBe('1.5 MB of 3.0 MB')
    pushed.enqueue(new Uint8Array(1_500_000))
    pushed.close()
    await done
    expect(saved).toEqual([{ name: 'trelvo.zip', size: 3_000_000 }])
    expect([said.value, trouble.value]).toEqual(['', ''])
    page.unmount()
  })

  it('says what went wrong, saves nothing, and can be tried again', async () => {
    const { said, trouble, download, page } = used()
    const done = download('/api/archive.zip')
    answer(new Response('', { status: 500 }))
    await done
    expect(trouble.value).toBe('The server answered 500: nothing was downloaded.')
    expect([said.value, saved.length]).toEqual(['', 0])
    void download('/api/archive.zip')
    expect(trouble.value).toBe('')
    expect(fetch).toHaveBeenCalledTimes(2)
    page.unmount()
  })
})
