const FIELDS = 'input, textarea, select, button, [role=combobox], [tabindex]'
const WAIT_MS = 3_000

/** Scrolls to a control by its id, as soon as it is on the page, and puts the focus on its first field. */
export async function bringIntoView(id: string): Promise<void> {
  const until = performance.now() + WAIT_MS
  let found = document.getElementById(id)
  while (!found && performance.now() < until) {
    await new Promise((done) => requestAnimationFrame(done))
    found = document.getElementById(id)
  }
  if (!found) return
  found.scrollIntoView({ block: 'center', behavior: 'smooth' })
  const field = found.matches(FIELDS) ? found : (found.querySelector<HTMLElement>(FIELDS) ?? found)
  if (field === found && !field.matches(FIELDS)) field.tabIndex = -1
  field.focus({ preventScroll: true })
}
