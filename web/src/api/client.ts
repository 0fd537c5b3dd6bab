import createClient from 'openapi-fetch'

import type { components, paths } from './schema'

export type Schemas = components['schemas']
/** code: what the program branches on, where it has to; never the sentence. */
export type Problem = Omit<Schemas['ProblemOut'], 'code' | 'params'> & Partial<Pick<Schemas['ProblemOut'], 'code' | 'params'>>

/** What is wrong and what to do about it, in one text; empty where nothing is. */
export const inOneText = (problems: Pick<Problem, 'what' | 'todo'>[]): string =>
  problems.map(({ what, todo }) => `${what} ${todo}`.trim()).join(' ')

/** What the server would not accept: problems that say what is wrong, where, and what to do. */
export class Refusal extends Error {
  constructor(
    readonly problems: Problem[],
    readonly status: number,
  ) {
    super(inOneText(problems))
  }
}

const noNumber = (field: string): Problem => ({
  where: field,
  what: `What stands in the field marked in red is no number${/^\d*$/.test(field) ? '' : ` (${field.replaceAll('_', ' ')})`}.`,
  todo: 'Correct it, or empty the field.',
})

/** A body as it is sent. A field whose text is no number stops it: JSON knows no NaN and would send an empty field instead. */
export function asJson(body: unknown): string | FormData {
  if (body instanceof FormData) return body
  return JSON.stringify(body, (field, value: unknown) => {
    if (Number.isNaN(value)) throw new Refusal([noNumber(field)], 422)
    return value
  })
}

// no-store: a browser that keeps answers makes a second question wait until the first to the same address is answered
export const client = createClient<paths>({ baseUrl: '/', cache: 'no-store', bodySerializer: asJson })

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** The data of an answer, or the refusal as an exception. */
export async function answered<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch (trouble) {
    if (trouble instanceof Refusal) throw trouble
    throw new Refusal([unreachable], 0)
  }
  // 204 says that there is nothing to say
  if (answer.response.ok && (answer.data !== undefined || answer.response.status === 204)) return answer.data as T
  const problems = (answer.error as { problems?: Problem[] } | undefined)?.problems
  throw new Refusal(problems ?? [unexplained(answer.response.status)], answer.response.status)
}

const unreachable: Problem = {
  where: 'server',
  what: 'Trelvo’s server does not answer.',
  todo: 'See whether it still runs where you started it, then try again. What you typed is still here.',
}

const unexplained = (status: number): Problem => ({
  where: 'server',
  what: `The server failed (${status}).`,
  todo: 'Try again; if it stays so, look at the lines it printed where you started it.',
})

/** Problems of any exception, for showing. */
export function problemsOf(trouble: unknown): Problem[] {
  if (trouble instanceof Refusal) return trouble.problems
  return [{ where: 'page', what: String(trouble), todo: 'Reload the page.' }]
}

/** Why something failed, in a line: what is wrong and what to do. */
export const whyOf = (trouble: unknown): string => inOneText(problemsOf(trouble))

/** Form data for requests with a file; openapi-fetch passes it on as it is. */
export function formData(fields: Record<string, string | Blob | boolean | string[]>): FormData {
  const form = new FormData()
  for (const [name, value] of Object.entries(fields))
    for (const one of Array.isArray(value) ? value : [value]) form.append(name, typeof one === 'boolean' ? String(one) : one)
  return form
}
