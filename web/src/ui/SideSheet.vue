<!-- A sheet that opens at the side: a dialog that the tab key stays in, and that Escape closes unless a list in it is open. -->
<script setup lang="ts">
import { Drawer as ADrawer } from 'ant-design-vue'
import { useEventListener } from '@vueuse/core'
import { createFocusTrap, type FocusTrap } from 'focus-trap'
import { nextTick, onBeforeUnmount, ref, watch } from 'vue'

import { sheetsOpen } from '../composables/keys'

/** start: which element takes the focus; the sheet itself where none is named. */
const props = defineProps<{ title: string; width: number; bodyStyle?: Record<string, string>; start?: string }>()
const MOST_FRAMES = 60
const open = defineModel<boolean>('open', { required: true })
const anchor = ref<HTMLElement>()
let trap: FocusTrap | undefined
let sheet: HTMLElement | null | undefined

/** A list or a question that lies above the sheet, which Escape closes first. */
const above = (): boolean =>
  !!document.querySelector(
    '.ant-select-open, .ant-picker-dropdown:not(.ant-picker-dropdown-hidden), .ant-modal-wrap:not([style*="none"])',
  )

useEventListener(
  'keydown',
  (event: KeyboardEvent) => {
    if (event.key !== 'Escape' || !open.value || above()) return
    event.stopPropagation()
    open.value = false
  },
  { capture: true },
)
/** Puts the focus into the sheet as soon as it can take it: while it has not begun to slide in it cannot. A form that has put the
 *  focus itself is left alone. */
function enter(into: HTMLElement, frames: number): void {
  if (into !== sheet || !trap || into.contains(document.activeElement)) return
  ;(into.querySelector<HTMLElement>(props.start ?? '[autofocus]') ?? into).focus({ preventScroll: true })
  if (!into.contains(document.activeElement) && frames) requestAnimationFrame(() => enter(into, frames - 1))
}
/** Where the focus was when the sheet opened, taken before a form puts it where typing begins. */
let before: HTMLElement | null = null
let counted = false
watch(
  open,
  (isOpen) => {
    if (isOpen) before = document.activeElement as HTMLElement | null
    if (isOpen !== counted) sheetsOpen.value += isOpen ? 1 : -1
    counted = isOpen
  },
  { flush: 'sync', immediate: true },
)
/** The focus leaves at once: a key pressed while the sheet is still sliding away belongs to the page beneath. */
function release(): void {
  if (!trap) return
  trap.deactivate()
  trap = undefined
  if (!sheet?.contains(document.activeElement)) return
  ;(document.activeElement as HTMLElement).blur()
  if (before?.isConnected) before.focus({ preventScroll: true })
}
watch(
  [open, anchor],
  async ([isOpen]) => {
    release()
    if (!isOpen) return
    await nextTick()
    sheet = anchor.value?.closest<HTMLElement>('.ant-drawer-content')
    if (!sheet) return
    sheet.setAttribute('role', 'dialog')
    sheet.setAttribute('aria-modal', 'true')
    sheet.setAttribute('aria-label', props.title)
    sheet.tabIndex = -1
    trap = createFocusTrap(sheet, {
      allowOutsideClick: true,
      clickOutsideDeactivates: () => above(),
      escapeDeactivates: false,
      // each form puts the focus where typing begins
      initialFocus: false,
      returnFocusOnDeactivate: false,
      fallbackFocus: sheet,
      tabbableOptions: { displayCheck: 'none' },
    })
    trap.activate()
    enter(sheet, MOST_FRAMES)
  },
  { flush: 'post' },
)
onBeforeUnmount(() => {
  release()
  if (counted) sheetsOpen.value -= 1
})
</script>

<template>
  <ADrawer
    v-model:open="open"
    :title="title"
    placement="right"
    :width="width"
    :body-style="bodyStyle"
    :keyboard="false"
    :autofocus="false"
  >
    <div ref="anchor"><slot /></div>
    <template v-if="$slots.footer" #footer><slot name="footer" /></template>
  </ADrawer>
</template>
