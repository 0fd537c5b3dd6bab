import { useMutation } from '@tanstack/vue-query'

import { answered, client, formData, type Schemas } from './client'
import { UNCHANGED } from './refresh'

export type PackagePlan = Schemas['PackagePlan']

/** Where the whole logbook, or one campaign, comes from as a data package. */
export const packageAddress = (campaignId?: number): string =>
  `/api/package.zip${campaignId === undefined ? '' : `?campaign_id=${campaignId}`}`

/** What taking a package in would do; nothing is written. */
export const usePlanPackage = () =>
  useMutation({
    meta: UNCHANGED,
    mutationFn: (file: File) =>
      answered(client.POST('/api/package/plan', { body: { file: '' }, bodySerializer: () => formData({ file }) })),
  })

export function useImportPackage() {
  return useMutation({
    /** copies: campaigns that differ, by their identity, to be taken in beside what is here */
    mutationFn: ({ file, copies }: { file: File; copies: string[] }) =>
      answered(
        client.POST('/api/package/import', { body: { file: '', copies }, bodySerializer: () => formData({ file, copies }) }),
      ),
  })
}
