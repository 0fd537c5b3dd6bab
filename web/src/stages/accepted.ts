import { useStorage } from '@vueuse/core'

import type { NextStep } from '../api/climb'

/** The risk that one accepts: one failure in so many hours. The same on Climb and Prove, kept in this browser. */
export const acceptedHours = useStorage<number | null>('trelvo-accepted-hours', 50)

/** Whose advice is followed on a climb; a user keeps to one from test to test. */
export const followed = useStorage<NextStep['strategy']>('trelvo-strategy', 'by the numbers')
