import { describe, expect, it } from 'vitest'

import { answered, formData, problemsOf, Refusal } from '../api/client'

const response = (status: number) => new Response(null, { status })
const problem = { where: 'knobs.0.step', what: 'A step of 0 never reaches another value.', todo: 'Type more than zero.' }

describe('an answer', () => {
  it('gives its data', async () => {
    expect(await answered(Promise.resolve({ data: { id: 3 }, response: response(200) }))).toEqual({ id: 3 })
  })

  it('may have nothing to say', async () => {
    expect(await answered(Promise.resolve({ response: response(204) }))).toBeUndefined()
    await expect(answered(Promise.resolve({ response: response(404) }))).rejects.toMatchObject({ status: 404 })
  })

  it('becomes a refusal with the problems that the server named', async () => {
    const refused = answered(Promise.resolve({ error: { problems: [problem] }, response: response(422) }))
    await expect(refused).rejects.toMatchObject({ status: 422, problems: [problem] })
  })

  it('says what to do when the server failed without words', async () => {
    const failed = await answered(Promise.resolve({ error: 'x', response: response(500) })).catch((trouble: unknown) => trouble)
    expect(problemsOf(failed)[0]?.what).toContain('500')
    expect(problemsOf(failed)[0]?.todo).toContain('Try again')
  })

  it('says that what was typed is still there when the server is away', async () => {
    const lost = await answered(Promise.reject(new TypeError('network'))).catch((trouble: unknown) => trouble)
    expect(lost).toBeInstanceOf(Refusal)
    expect(problemsOf(lost)[0]?.todo).toContain('What you typed is still here')
  })

  it('and any other trouble asks for a reload', () => {
    expect(problemsOf(new Error('odd'))[0]).toMatchObject({ where: 'page', todo: 'Reload the page.' })
  })
})

describe('form data', () => {
  it('carries files and words', () => {
    const form = formData({ file: new File(['a'], 'log.csv'), store: true, choice: '{}' })
    expect((form.get('file') as File).name).toBe('log.csv')
    expect([form.get('store'), form.get('choice')]).toEqual(['true', '{}'])
  })
})
