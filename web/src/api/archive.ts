import { useMutation } from '@tanstack/vue-query'

import { answered, client, formData, type Schemas } from './client'
import { UNCHANGED } from './refresh'

export type ImportPlan = Schemas['ImportPlan']

/** Where the archive of the whole logbook, or of one campaign, is downloaded. */
export const archiveAddress = (campaignId?: number): string =>
  `/api/archive.zip${campaignId === undefined ? '' : `?campaign_id=${campaignId}`}`

/** What importing an archive would do; nothing is written. */
export const usePlanImport = () =>
  useMutation({
    meta: UNCHANGED,
    mutationFn: (file: File) =>
      answered(client.POST('/api/archive/plan', { body: { file: '' }, bodySerializer: () => formData({ file }) })),
  })

export const useImportArchive = () =>
  useMutation({
    /** copies: campaigns that are there already, by their identity, to be stored as copies */
    mutationFn: ({ file, copies }: { file: File; copies: string[] }) =>
      answered(
        client.POST('/api/archive/import', { body: { file: '', copies }, bodySerializer: () => formData({ file, copies }) }),
      ),
  })
