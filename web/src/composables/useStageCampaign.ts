import { inject, type InjectionKey, type Ref } from 'vue'

import type { Campaign } from '../api/campaigns'

export const campaignKey: InjectionKey<Ref<Campaign>> = Symbol('campaign')
/** What is chosen already when a form opens. */
export interface Preset {
  settingId?: number
  workloadId?: number
  repeats?: number
  minutes?: number
}
type Opener = (preset?: Preset) => void
export const openLiveKey: InjectionKey<Opener> = Symbol('live run')
export const openRunFormKey: InjectionKey<Opener> = Symbol('run form')
export const beginLineKey: InjectionKey<(line: string) => void> = Symbol('quick line')

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

/** Opens the drawer for a run on the simulator. */
export function useOpenLive() {
  const open = inject(openLiveKey)
  if (!open) throw new Error('a stage page stands outside its campaign')
  return open
}

/** Puts the beginning of a run into the quick line; the user adds what came of it. */
export function useBeginLine() {
  const begin = inject(beginLineKey)
  if (!begin) throw new Error('a stage page stands outside its campaign')
  return begin
}
