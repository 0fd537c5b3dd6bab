import { inject, type InjectionKey, type Ref } from 'vue'

import type { Campaign } from '../api/campaigns'

export const campaignKey: InjectionKey<Ref<Campaign>> = Symbol('campaign')
export const openRunFormKey: InjectionKey<(preset?: { settingId?: number; workloadId?: number }) => void> = Symbol('run form')

/** The campaign that the surrounding page has loaded. */
export function useStageCampaign(): Ref<Campaign> {
  const campaign = inject(campaignKey)
  if (!campaign) throw new Error('a stage page stands outside its campaign')
  return campaign
}

/** Opens the form for a run, with setting and workload already chosen where they are known. */
export function useOpenRunForm() {
  const open = inject(openRunFormKey)
  if (!open) throw new Error('a stage page stands outside its campaign')
  return open
}
