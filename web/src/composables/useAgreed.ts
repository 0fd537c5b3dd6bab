import { App } from 'ant-design-vue'
import { h, type MaybeRefOrGetter, toValue } from 'vue'

import { askCautions, useSayYes } from '../api/journal'

type Cautions = Awaited<ReturnType<typeof askCautions>>

/**
 * Before a knob is turned that can hurt something: its caution is read, and a clear yes is kept with its date. Asked once a
 * campaign. Answers whether to go on.
 */
export function useAgreed(campaignId: MaybeRefOrGetter<number>) {
  const { modal } = App.useApp()
  const { mutateAsync: sayYes } = useSayYes()

  const ask = (one: Cautions['cautions'][number], first: string): Promise<boolean> =>
    new Promise((answer) => {
      modal.confirm({
        title: one.caution.title,
        width: 560,
        content: h('div', [
          h('p', one.caution.why),
          h('p', one.caution.people),
          h('p', one.caution.unknown),
          h('p', { class: 'quiet' }, first),
        ]),
        okText: 'Yes, I have read this and will act by it',
        cancelText: 'Cancel',
        onOk: async () => {
          await sayYes({ campaignId: toValue(campaignId), key: one.caution.key })
          answer(true)
        },
        onCancel: () => answer(false),
      })
    })

  return async (knobs: string[]): Promise<boolean> => {
    if (knobs.length === 0) return true
    const { cautions, first } = await askCautions(toValue(campaignId))
    for (const one of cautions) {
      if (one.said_at || !(one.caution.before_knobs ?? []).some((knob) => knobs.includes(knob))) continue
      if (!(await ask(one, first))) return false
    }
    return true
  }
}
