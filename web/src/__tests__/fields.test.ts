import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { nextTick } from 'vue'

import NumberField from '../ui/NumberField.vue'

const field = (value: number | null, more: object = {}) =>
  mount(NumberField, { props: { modelValue: value, label: 'Power', unit: 'W', ...more } })

describe('a field for a number', () => {
  it('is named by its label', () => {
    const box = field(null)
    expect(box.find('label').attributes('for')).toBe(box.find('input').attributes('id'))
  })

  it('takes a decimal comma and gives a number', async () => {
    const box = field(null)
    await box.find('input').setValue('176,5')
    expect(box.emitted('update:modelValue')?.at(-1)).toEqual([176.5])
  })

  it('says so when what was typed is no number, and gives what no request can carry', async () => {
    const box = field(3)
    await box.find('input').setValue('warm')
    expect(box.emitted('update:modelValue')?.at(-1)).toEqual([NaN])
    expect(box.find('[role=alert]').text()).toBe('This is not a number.')
    expect(box.find('input').attributes('aria-invalid')).toBe('true')
  })

  it('keeps what is being typed, and follows a change from outside', async () => {
    const box = field(null, { 'onUpdate:modelValue': (value: number | null) => box.setProps({ modelValue: value }) })
    await box.find('input').setValue('12,')
    await nextTick()
    expect((box.find('input').element as HTMLInputElement).value).toBe('12,')
    await box.setProps({ modelValue: 15 })
    expect((box.find('input').element as HTMLInputElement).value).toBe('15')
  })

  it('keeps a text that is no number while the form holds it, and lets go of it with the form', async () => {
    const box = field(3, { 'onUpdate:modelValue': (value: number | null) => box.setProps({ modelValue: value }) })
    await box.find('input').setValue('abc')
    await nextTick()
    expect((box.find('input').element as HTMLInputElement).value).toBe('abc')
    await box.setProps({ modelValue: null })
    expect((box.find('input').element as HTMLInputElement).value).toBe('')
    expect(box.find('[role=alert]').exists()).toBe(false)
  })

  it('shows the trouble that the server found', () => {
    expect(field(0, { trouble: '0 is not above zero.' }).find('[role=alert]').text()).toBe('0 is not above zero.')
  })
})
