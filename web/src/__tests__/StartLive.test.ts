import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { App } from 'ant-design-vue'
import { afterEach, expect, it, vi } from 'vitest'
import { routerKey } from 'vue-router'

import { client } from '../api/client'
import type { Campaign } from '../api/campaigns'
import StartLive from '../features/live/StartLive.vue'

afterEach(() => vi.restoreAllMocks())

const SETTINGS = [
  { id: 1, values: {}, title: 'stock' },
  { id: 2, values: { voltage: 25 }, title: 'voltage +25 mV' },
]
const CAUTIONS = {
  first: 'Makers’ limits come first.',
  cautions: [{ said_at: null, caution: { key: 'volts', title: 'More voltage', why: '', before_knobs: ['voltage'] } }],
}
const campaign = { id: 1, test_suite: [], workloads: [{ id: 5, name: 'Kiln', minutes: 5, retired: null }] } as unknown as Campaign
const answer = (data: unknown) => ({ data, response: new Response(null, { status: 200 }) })

/** The form, opened by its preset on a setting that turns the voltage; its settings come when they are let. */
async function opened(refused = false) {
  const confirm = vi.fn((asked: { onCancel: () => void }) => asked.onCancel())
  vi.spyOn(App, 'useApp').mockReturnValue({ modal: { confirm } } as never)
  let arrive!: () => void
  vi.spyOn(client, 'GET').mockImplementation(((path: string) => {
    if (path.endsWith('/settings'))
      return new Promise((come, fail) => (arrive = () => (refused ? fail(new TypeError('away')) : come(answer(SETTINGS)))))
    if (path.endsWith('/cautions')) return Promise.resolve(answer(CAUTIONS))
    return Promise.resolve(answer(path === '/api/bench-options' ? { speeds: [1, 60] } : {}))
  }) as never)
  const begun = vi.spyOn(client, 'POST').mockResolvedValue(answer({ run_id: 7 }) as never)
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const page = mount(StartLive, {
    props: { campaign, preset: {}, open: false },
    global: {
      plugins: [[VueQueryPlugin, { queryClient: queries }]],
      provide: { [routerKey as symbol]: {} },
      stubs: { SideSheet: { template: '<div><slot /></div>' } },
    },
  })
  await page.setProps({ preset: { settingId: 2, workloadId: 5 }, open: true })
  await flushPromises()
  return { page, confirm, begun, arrive: () => arrive() }
}

it('sent before its settings have come, it asks for the caution of what they turn all the same', async () => {
  const { page, confirm, begun, arrive } = await opened()
  await page.find('form').trigger('submit')
  await flushPromises()
  expect(confirm).not.toHaveBeenCalled()
  arrive()
  await expect.poll(() => confirm).toHaveBeenCalledTimes(1)
  await flushPromises()
  expect(begun).not.toHaveBeenCalled()
  page.unmount()
})

it('says so where its settings do not come, and begins nothing', async () => {
  const { page, confirm, begun, arrive } = await opened(true)
  await page.find('form').trigger('submit')
  arrive()
  await expect.poll(() => page.text()).toContain('Not started:')
  expect(confirm).not.toHaveBeenCalled()
  expect(begun).not.toHaveBeenCalled()
  page.unmount()
})
