import { message } from 'ant-design-vue'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch, type WritableComputedRef } from 'vue'

import { whyOf } from '../api/client'
import { type TermsIn, useSetTerms, useSetWay, type WayIn } from '../api/goal'
import { useStageCampaign } from './useStageCampaign'

/**
 * What the user accepts and how they work, kept with the campaign so that every screen says the same: fields that store themselves
 * half a second after the last key press.
 */
export function useOwnWay(knob: () => string | undefined) {
  const campaign = useStageCampaign()
  const { mutateAsync: setTerms } = useSetTerms()
  const { mutateAsync: setWay } = useSetWay()

  /** Shows what was typed until the server has it. */
  function own<T>(read: () => T, store: (value: T) => Promise<unknown>, wait: number): WritableComputedRef<T> {
    const typed = ref<{ value: T } | undefined>()
    const send = useDebounceFn(async (value: T) => {
      try {
        await store(value)
      } catch (trouble) {
        void message.error(whyOf(trouble))
        typed.value = undefined
      }
    }, wait)
    watch(read, () => (typed.value = undefined))
    return computed<T>({
      get: () => (typed.value ? (typed.value.value as T) : read()),
      set: (value) => {
        typed.value = { value } as never
        void send(value)
      },
    })
  }
  const term = (body: TermsIn): Promise<unknown> => setTerms({ campaignId: campaign.value.id, body })
  const way = (body: WayIn): Promise<unknown> => setWay({ campaignId: campaign.value.id, body })

  return {
    hours: own<number | null>(
      () => campaign.value.terms.hours,
      (hours) => (hours == null ? Promise.resolve() : term({ hours })),
      500,
    ),
    cautious: own(
      () => campaign.value.way.cautious,
      (cautious) => way({ cautious }),
      0,
    ),
    strategy: own(
      () => campaign.value.way.strategy,
      (strategy) => way({ strategy }),
      0,
    ),
    approach: own(
      () => campaign.value.way.approach,
      (approach) => way({ approach }),
      0,
    ),
    largestStep: own<number | null>(
      () => campaign.value.way.largest_steps?.[knob() ?? ''] ?? null,
      (step) => {
        const others = Object.entries(campaign.value.way.largest_steps ?? {}).filter(([key]) => key !== knob())
        return way({ largest_steps: Object.fromEntries(step == null ? others : [...others, [knob() ?? '', step]]) })
      },
      500,
    ),
  }
}
