/** Keyboard shortcuts: one list, so that the help sheet and the controls cannot disagree. */
import { onKeyStroke } from '@vueuse/core'
import { ref } from 'vue'

export interface Shortcut {
  key: string
  what: string
  where: string
}

export const shortcuts: Shortcut[] = [
  { key: '?', what: 'Show or hide this sheet', where: 'everywhere' },
  { key: '1', what: 'Prepare', where: 'in a campaign' },
  { key: '2', what: 'Baseline', where: 'in a campaign' },
  { key: '3', what: 'Climb', where: 'in a campaign' },
  { key: '4', what: 'Prove', where: 'in a campaign' },
  { key: '5', what: 'Compare', where: 'in a campaign' },
  { key: '6', what: 'Keep', where: 'in a campaign' },
  { key: 'n', what: 'Log a run', where: 'in a campaign' },
  { key: 'e', what: 'Tonight: what fits into the time you have', where: 'in a campaign' },
  { key: 'i', what: 'Lab: heat, power and clocks as laws fitted from the runs', where: 'in a campaign' },
  { key: 'o', what: 'What could be done instead', where: 'in a campaign' },
  { key: 'q', what: 'Type a run in one line', where: 'in a campaign' },
  { key: 'l', what: 'Start a run on the simulator', where: 'in a campaign on the simulator' },
  { key: 's', what: 'Stop the run', where: 'on a live run' },
  { key: 'x', what: 'It crashed', where: 'on a live run' },
  { key: 'm', what: 'Make a note', where: 'on a live run' },
  { key: 'w', what: 'Set the warm-up suspects aside', where: 'on the baseline' },
  { key: 'a', what: 'Do the next step', where: 'in a campaign and on its runs' },
  { key: 't', what: 'Follow the advice', where: 'on the climb' },
  { key: 'b', what: 'Back to the campaign', where: 'on a run' },
  { key: 'a', what: 'Test as advised', where: 'at practice' },
  { key: 'u', what: 'Log hours of use of what the rig runs with', where: 'on Keep and on a rig' },
  { key: 'f', what: 'It failed in use', where: 'on Keep and on a rig' },
  { key: 'j', what: 'Write into the journal', where: 'on a rig' },
  { key: 'r', what: 'Add a setting', where: 'on the climb' },
  { key: '↑ ↓', what: 'Go from setting to setting', where: 'on the climb' },
  { key: 'Enter', what: 'Open or close the setting', where: 'on the climb' },
  { key: 'Esc', what: 'Close what is open', where: 'everywhere' },
]

/** How many sheets are open: while there is one, the keys of the page beneath it rest, wherever the focus is. */
export const sheetsOpen = ref(0)
/** Whether the help is open: its key works in the quick line too, and closes it again. */
export const helpOpen = ref(false)
const questionOpen = (): boolean => !!document.querySelector('.ant-modal-wrap:not([style*="none"])')

/** Runs `act` on a key, unless the user is typing, holds a modifier, or something lies open above the page.
 *
 * above: whether what is open is the shortcut's own, so that it closes it
 */
export function useShortcut(key: string, act: (event: KeyboardEvent) => void, above: () => boolean = () => false): void {
  onKeyStroke(key, (event) => {
    const target = event.target as HTMLElement
    const typing = target.closest('input, textarea, select, [contenteditable], [role=combobox]')
    const beneath = sheetsOpen.value > 0 || questionOpen() || target.closest('[role=dialog]')
    if (typing || (beneath && !above()) || event.ctrlKey || event.metaKey || event.altKey) return
    event.preventDefault()
    act(event)
  })
}
