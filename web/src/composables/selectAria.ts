/**
 * Select boxes told rightly to who cannot see them: the library leaves out whether one is open, and names a list that is not there
 * while it is closed. Both are put right whenever something on the page changes.
 */
export function keepSelectsTold(): void {
  const put = (): void => {
    for (const field of document.querySelectorAll<HTMLElement>('.ant-select-selection-search-input')) {
      const owned = field.getAttribute('aria-owns') ?? field.dataset.owns
      if (owned) field.dataset.owns = owned
      const open = !!owned && !!document.getElementById(owned) && field.getAttribute('aria-expanded') === 'true'
      if (!open && field.getAttribute('aria-expanded') !== 'false') field.setAttribute('aria-expanded', 'false')
      if (open) {
        if (!field.hasAttribute('aria-owns')) field.setAttribute('aria-owns', owned)
        if (!field.hasAttribute('aria-controls')) field.setAttribute('aria-controls', owned)
      } else {
        for (const name of ['aria-owns', 'aria-controls', 'aria-activedescendant']) field.removeAttribute(name)
      }
    }
  }
  let asked = false
  new MutationObserver(() => {
    if (asked) return
    asked = true
    requestAnimationFrame(() => {
      asked = false
      put()
    })
  }).observe(document.body, {
    subtree: true,
    childList: true,
    attributes: true,
    attributeFilter: ['aria-expanded', 'aria-owns', 'aria-activedescendant'],
  })
  put()
}
