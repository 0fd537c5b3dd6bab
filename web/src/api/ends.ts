/** Which ends of runs have been told already: a run's own line, the list of those that go on and the queue each tell the same. */
type End = 'ended' | 'lost'

/** Runs that this browser began or saw going on. A short one may be over before the list is asked again. */
const going = new Set<number>()
const told = new Set<string>()

/** It goes on: begun here, seen, or with a bench that fell silent and came back. */
export function goesOn(runId: number): void {
  going.add(runId)
  told.delete(`${runId} ended`)
  told.delete(`${runId} lost`)
}

/** True for who tells it first, and has to see to it that all is asked again. */
export function isNews(runId: number, end: End): boolean {
  going.delete(runId)
  const isNew = !told.has(`${runId} ${end}`)
  told.add(`${runId} ${end}`)
  return isNew
}

/** Those that went on until now and are not among the open ones any more; these count as going on from now on. */
export function over(open: Set<number>): number[] {
  const gone = [...going].filter((id) => !open.has(id))
  open.forEach(goesOn)
  return gone
}
