import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { answered, client, type Schemas } from './client'
import { UNCHANGED } from './refresh'

export type Practice = Schemas['PracticeView']

export const usePractices = () => useQuery({ queryKey: ['practices'], queryFn: () => answered(client.GET('/api/practice')) })

export const usePractice = (id: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['practice', () => toValue(id)],
    queryFn: () => answered(client.GET('/api/practice/{practice_id}', { params: { path: { practice_id: toValue(id) } } })),
  })

/** Every answer is the whole practice as it now stands. */
function usePracticeChange<Input>(change: (input: Input) => Promise<Practice>) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: change,
    meta: UNCHANGED,
    onSuccess: (practice) => {
      queries.setQueryData(['practice', practice.id], practice)
      void queries.invalidateQueries({ queryKey: ['practices'] })
    },
  })
}

export const useBeginPractice = () =>
  usePracticeChange((body: Schemas['PracticeIn']) => answered(client.POST('/api/practice', { body })))

export const usePractise = () =>
  usePracticeChange(({ id, body }: { id: number; body: Schemas['TestIn'] }) =>
    answered(client.POST('/api/practice/{practice_id}/test', { params: { path: { practice_id: id } }, body })),
  )

export const useKeepValue = () =>
  usePracticeChange(({ id, value }: { id: number; value: number }) =>
    answered(client.POST('/api/practice/{practice_id}/keep', { params: { path: { practice_id: id } }, body: { value } })),
  )
