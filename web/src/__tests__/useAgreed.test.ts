import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { App } from 'ant-design-vue'
import { afterEach, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'

import { client } from '../api/client'
import { refresh } from '../api/refresh'
import { useAgreed } from '../composables/useAgreed'

afterEach(() => vi.restoreAllMocks())

const CAUTIONS = {
  first: 'Makers’ limits come first.',
  cautions: [{ said_at: null, caution: { key: 'volts', title: 'More voltage', why: '', before_knobs: ['voltage'] } }],
}

function visited() {
  const confirm = vi.fn((asked: { onCancel: () => void }) => asked.onCancel())
  vi.spyOn(App, 'useApp').mockReturnValue({ modal: { confirm } } as never)
  let arrive!: () => void
  const asked = vi.spyOn(client, 'GET').mockImplementation(
    () =>
      new Promise((answer) => {
        arrive = () => answer({ data: CAUTIONS, response: new Response(null, { status: 200 }) } as never)
      }) as never,
  )
  let agreed!: ReturnType<typeof useAgreed>
  const queries = new QueryClient()
  const page = mount(defineComponent({ setup: () => ((agreed = useAgreed(1)), () => h('i')) }), {
    global: { plugins: [[VueQueryPlugin, { queryClient: queries }]] },
  })
  return { page, confirm, asked, queries, agreed, arrive: () => arrive() }
}

it('a key pressed before the cautions have come is not taken for a yes, and not lost to a change meanwhile', async () => {
  const { page, confirm, queries, agreed, arrive } = visited()
  const answer = agreed(['core', 'voltage'])
  await expect.poll(() => client.GET).toHaveBeenCalledTimes(1)
  expect(confirm).not.toHaveBeenCalled()
  await refresh(queries)
  arrive()
  expect(await answer).toBe(false)
  expect(confirm).toHaveBeenCalledTimes(1)
  page.unmount()
})

it('where no knob is turned nothing is asked', async () => {
  const { page, asked, agreed } = visited()
  expect(await agreed([])).toBe(true)
  expect(asked).not.toHaveBeenCalled()
  page.unmount()
})
