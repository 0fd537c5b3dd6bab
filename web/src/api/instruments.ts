import { useMutation, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'

export type Instrument = Schemas['InstrumentOut']
export type AgreementBy = Schemas['AgreementView']['by']
export type InstrumentIn = Schemas['InstrumentIn']
export type FigureIn = Schemas['FigureIn']
export type Quantity = FigureIn['quantity']

/** What an instrument is described by: its number and its rig are in the address. */
const asInstrumentIn = (one: InstrumentIn): InstrumentIn => ({
  name: one.name,
  kind: one.kind,
  quantity: one.quantity,
  part: one.part,
  place: one.place,
  resolution: one.resolution,
  offset: one.offset,
  offset_sd: one.offset_sd,
  factor: one.factor,
  factor_sd: one.factor_sd,
  trust: one.trust,
  trust_since: one.trust_since,
  trust_why: one.trust_why,
  replaced_by_id: one.replaced_by_id,
})

export function useKeepInstrument() {
  return useMutation({
    mutationFn: ({ rigId, seen, body: draft }: { rigId: number; seen?: Instrument; body: InstrumentIn }) => {
      const body = asInstrumentIn(draft)
      return seen
        ? answered(
            client.PUT('/api/instruments/{instrument_id}', {
              params: { path: { instrument_id: seen.id } },
              body: { ...body, seen: { ...asInstrumentIn(seen) } },
            }),
          )
        : answered(client.POST('/api/rigs/{rig_id}/instruments', { params: { path: { rig_id: rigId } }, body }))
    },
  })
}

/** How two instruments of a rig agree, over the runs in which both read. */
export const useAgreement = (
  first: MaybeRefOrGetter<number | undefined>,
  second: MaybeRefOrGetter<number | undefined>,
  by: MaybeRefOrGetter<AgreementBy | undefined>,
) =>
  useQuery({
    queryKey: ['agreement', () => toValue(first), () => toValue(second), () => toValue(by)],
    enabled: () => toValue(first) !== undefined && toValue(second) !== undefined,
    queryFn: () =>
      answered(
        client.GET('/api/instruments/{instrument_id}/agreement', {
          params: { path: { instrument_id: toValue(first)! }, query: { second: toValue(second)!, by: toValue(by) } },
        }),
      ),
    retry: false,
  })

export function useSetCounting() {
  return useMutation({
    mutationFn: ({ campaignId, counting }: { campaignId: number; counting: Record<string, number> }) =>
      answered(
        client.PUT('/api/campaigns/{campaign_id}/counting', {
          params: { path: { campaign_id: campaignId } },
          body: { counting },
        }),
      ),
  })
}
