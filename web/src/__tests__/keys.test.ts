import { mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { defineComponent } from 'vue'

import { sheetsOpen, useShortcut } from '../composables/keys'

const press = (key: string, target: EventTarget = document.body): boolean =>
  target.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }))
const page = (act: () => void, above?: () => boolean) =>
  mount(defineComponent({ setup: () => (useShortcut('4', act, above), () => null) }))

describe('a key of the page', () => {
  afterEach(() => (sheetsOpen.value = 0))

  it('rests while a sheet lies above the page, wherever the focus is', () => {
    const act = vi.fn()
    const shown = page(act)
    press('4')
    expect(act).toHaveBeenCalledTimes(1)
    sheetsOpen.value = 1
    press('4')
    expect(act).toHaveBeenCalledTimes(1)
    sheetsOpen.value = 0
    press('4')
    expect(act).toHaveBeenCalledTimes(2)
    shown.unmount()
  })

  it('closes what it has opened itself', () => {
    const act = vi.fn()
    const shown = page(act, () => true)
    sheetsOpen.value = 1
    press('4')
    expect(act).toHaveBeenCalledOnce()
    shown.unmount()
  })

  it('is a letter where someone types', () => {
    const act = vi.fn()
    const shown = page(act)
    const field = document.body.appendChild(document.createElement('input'))
    press('4', field)
    expect(act).not.toHaveBeenCalled()
    field.remove()
    shown.unmount()
  })
})
