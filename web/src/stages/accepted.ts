import { useStorage } from '@vueuse/core'
import { ref } from 'vue'

import type { ClimbQuestion, NextStep } from '../api/climb'

/** The risk that one accepts: one failure in so many hours. The same on Climb and Prove, kept in this browser. */
export const acceptedHours = useStorage<number | null>('trelvo-accepted-hours', 50)

/** Whose advice is followed on a climb; a user keeps to one from test to test. */
export const followed = useStorage<NextStep['strategy']>('trelvo-strategy', 'by the numbers')

/** Bench time that there is for the climb, in minutes; none: without an end. Not kept: it is another every evening. */
export const benchMinutes = ref<number | null>(null)

/** Keep only what would hold even if failures thin out slowly below the edge. */
export const wary = useStorage('trelvo-wary', false)

/** How far past the furthest value that survived a test may go, in the knob's unit, by knob; none: a tenth of the range. */
export const largestSteps = useStorage<Record<string, number | null>>('trelvo-largest-steps', {})

/** What is asked of a climb with all of this: one question, wherever it is asked. */
export const climbQuestion = (knob: string | undefined): ClimbQuestion => ({
  knob,
  hours: acceptedHours.value ?? undefined,
  minutes: benchMinutes.value ?? undefined,
  wary: wary.value || undefined,
  largest_step: largestSteps.value[knob ?? ''] ?? undefined,
})
