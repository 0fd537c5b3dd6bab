/**
 * Draws what is new, but not more than half of the time: where drawing is slow, keys and clicks come between. What is asked
 * for while one drawing is under way, or before as long again has passed, is one drawing afterwards.
 *
 *   const draw = atLeisure(() => (shown.value = newest))
 *   source.addEventListener('news', (event) => { newest = event.data; draw() })
 */
export function atLeisure(drawing: () => void): () => void {
  let busy = false
  let asked = false

  return function draw(): void {
    asked = busy
    if (busy) return
    busy = true
    const began = performance.now()
    drawing()
    // a timer set by the frame that shows it fires once the page is free again
    requestAnimationFrame(() =>
      setTimeout(() => {
        setTimeout(() => {
          busy = false
          if (asked) draw()
        }, performance.now() - began)
      }),
    )
  }
}
