import { watch } from 'vue'

/**
 * A form follows what is stored until something has been begun in it; what arrives later never overwrites what a user has begun.
 *
 * stored: what is there now; current: what is in the form, comparable as JSON; fill: puts what is stored into the form.
 * Returns a function that fills the form again, whatever is in it (after it was saved, or opened again).
 */
export function useFollowing<T>(stored: () => T, current: () => unknown, fill: (now: T) => void): () => void {
  let filled = ''
  function again(): void {
    fill(stored())
    filled = JSON.stringify(current())
  }
  watch(stored, () => JSON.stringify(current()) === filled && again())
  again()
  return again
}
