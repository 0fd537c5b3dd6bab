import { useMutation, useQuery } from '@tanstack/vue-query'

import { answered, client, type Schemas } from './client'
import { DECLARED, UNCHANGED } from './refresh'

export type Starter = Schemas['StarterOut']

/** What a new campaign can begin with, by what is tuned, and the knobs that are usual anywhere. */
export const useStarters = () =>
  useQuery({ queryKey: ['starters'], queryFn: () => answered(client.GET('/api/starters')), ...DECLARED })

/** What the machine that Trelvo runs on says of itself. */
export const useReadMachine = () => useMutation({ mutationFn: () => answered(client.GET('/api/this-machine')), meta: UNCHANGED })
