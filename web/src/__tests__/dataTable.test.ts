import { mount } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'

import { type Column, headOf, inOrder } from '../ui/columns'
import DataTable from '../ui/DataTable.vue'
import * as tables from '../ui/words/tables'

interface Reading {
  id: number
  setting: string
  watts: number | null
  note: string
}
const READINGS: Reading[] = [
  { id: 1, setting: 'core +90 MHz', watts: 188.4, note: 'panel off' },
  { id: 2, setting: 'stock', watts: 171.2, note: '' },
  { id: 3, setting: 'core +105 MHz', watts: null, note: '' },
  { id: 4, setting: 'core +60 MHz', watts: 1990, note: 'warm' },
]
const COLUMNS: Column<Reading>[] = [
  { key: 'setting', title: 'Setting', value: (row) => row.setting },
  {
    key: 'watts',
    title: 'Power',
    unit: 'W',
    number: true,
    value: (row) => row.watts,
    text: (row) => row.watts?.toFixed(0) ?? '–',
  },
  { key: 'note', title: 'Note', value: (row) => row.note, onlyCopied: true },
  { key: 'acts', title: '', value: () => null },
]
const many = [...READINGS, ...READINGS.map((one) => ({ ...one, id: one.id + 10 }))]
const shown = (rows: Reading[] = READINGS, columns = COLUMNS) =>
  mount(DataTable<Reading>, { props: { name: 'power', rows, columns, rowKey: (row: Reading) => row.id } })
const settings = (table: ReturnType<typeof shown>) => table.findAll('tbody tr').map((row) => row.find('td').text())
const head = (table: ReturnType<typeof shown>, title: string) => table.findAll('th').find((one) => one.text().startsWith(title))!

describe('a large table', () => {
  it('has its units in the head and nothing in it that is only copied', () => {
    const table = shown()
    expect(table.findAll('th').map((one) => one.text())).toEqual(['Setting', 'Power, W', ''])
    expect(table.findAll('td')[1]!.text()).toBe('188')
  })

  it('sorts numbers by size, one way and the other, and leaves what is missing at the end', async () => {
    const table = shown()
    await head(table, 'Power').find('button').trigger('click')
    const first = settings(table)
    await head(table, 'Power').find('button').trigger('click')
    const second = settings(table)
    expect([first, second]).toContainEqual(['stock', 'core +90 MHz', 'core +60 MHz', 'core +105 MHz'])
    expect([first, second]).toContainEqual(['core +60 MHz', 'core +90 MHz', 'stock', 'core +105 MHz'])
    expect(head(table, 'Power').attributes('aria-sort')).toMatch(/ascending|descending/)
  })

  it('sorts the numbers within names by size', () => {
    expect(inOrder('core +90 MHz', 'core +105 MHz')).toBeLessThan(0)
    expect(inOrder(2, 10)).toBeLessThan(0)
  })

  it('finds rows by words, also in what is only copied, and says how many there are', async () => {
    const table = shown(many)
    await table.find('input').setValue('core warm')
    await nextTick()
    expect(settings(table)).toEqual(['core +60 MHz', 'core +60 MHz'])
    expect(table.find('[role=status]').text()).toBe('2 of 8')
    await table.find('input').setValue('nothing like it')
    await nextTick()
    expect(table.text()).toContain('No row has these words.')
  })

  it('has no filter for a few rows', () => expect(shown().find('input').exists()).toBe(false))

  it('writes what is shown, in its order, with what is only copied', async () => {
    const download = vi.spyOn(tables, 'downloadCsv').mockImplementation(() => undefined)
    const table = shown()
    await head(table, 'Setting').find('button').trigger('click')
    await table
      .findAll('button')
      .find((one) => one.text() === 'CSV')!
      .trigger('click')
    const [name, headers, rows] = download.mock.calls[0]!
    expect([name, headers]).toEqual(['power', ['Setting', 'Power, W', 'Note']])
    expect(rows.map((row) => row[0])).toEqual(settings(table))
    expect(rows).toContainEqual(['core +90 MHz', 188.4, 'panel off'])
  })

  it('names a column by its unit', () => expect(headOf(COLUMNS[1]!)).toBe('Power, W'))
})
