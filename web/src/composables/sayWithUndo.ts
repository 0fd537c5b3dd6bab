import { Button as AButton, message } from 'ant-design-vue'
import { h } from 'vue'

import { whyOf } from '../api/client'

/** Says for a few seconds what was done, with a way back. One at a time for each key; a way back that fails says why. */
export function sayWithUndo(key: string, words: string, undo: () => Promise<unknown>): void {
  const goBack = async (): Promise<void> => {
    try {
      await undo()
      message.destroy(key)
    } catch (trouble) {
      void message.error({ key, duration: 10, content: `Not undone: ${whyOf(trouble)}` })
    }
  }
  void message.success({
    key,
    duration: 8,
    content: () => h('span', [words, h(AButton, { type: 'link', size: 'small', onClick: goBack }, () => 'Undo')]),
  })
}
