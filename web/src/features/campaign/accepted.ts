import { ref } from 'vue'

import type { ClimbQuestion } from '../../api/climb'

/** Bench time that there is for the climb, in minutes; none: without an end. Not kept: it is another every evening. */
export const benchMinutes = ref<number | null>(null)

/** What is asked of a climb: one question, wherever it is asked. The accepted risk and the way of working are the campaign's. */
export const climbQuestion = (knob: string | undefined): ClimbQuestion => ({ knob, minutes: benchMinutes.value ?? undefined })
