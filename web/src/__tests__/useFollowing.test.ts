import { describe, expect, it } from 'vitest'
import { nextTick, reactive, ref } from 'vue'

import { useFollowing } from '../composables/useFollowing'

function form() {
  const stored = ref({ core: 15 })
  const values = reactive<Record<string, number>>({})
  const again = useFollowing(
    () => stored.value,
    () => values,
    (now) => Object.assign(values, now),
  )
  return { stored, values, again }
}

describe('a form that follows what is stored', () => {
  it('takes what arrives while nothing has been begun in it', async () => {
    const { stored, values } = form()
    stored.value = { core: 30 }
    await nextTick()
    expect(values).toEqual({ core: 30 })
  })

  it('keeps what a user has begun, however often the answer comes anew', async () => {
    const { stored, values, again } = form()
    values.core = 60
    for (const core of [30, 45]) {
      stored.value = { core }
      await nextTick()
    }
    expect(values).toEqual({ core: 60 })
    again()
    expect(values).toEqual({ core: 45 })
  })
})
