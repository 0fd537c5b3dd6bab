import { computed, type MaybeRefOrGetter, provide, ref, type ShallowRef, toValue } from 'vue'
import { useRouter } from 'vue-router'

import { useCampaign } from '../api/campaigns'
import { stageKeys } from '../features/campaign/stageRoutes'
import { useShortcut } from './keys'
import { beginLineKey, campaignKey, openLiveKey, openRunFormKey, type Preset } from './useStageCampaign'

/** What a page gives to all that stands inside it and does a campaign's work: the campaign, its forms, its quick line, its keys. */
export function useCampaignFrame(
  id: MaybeRefOrGetter<number>,
  next: Readonly<ShallowRef<{ begin: (line?: string) => Promise<void> } | null>>,
  askAtStart = true,
) {
  const router = useRouter()
  const params = () => ({ id: toValue(id) })
  const query = useCampaign(id, askAtStart)
  const campaign = query.data
  provide(
    campaignKey,
    computed(() => campaign.value!),
  )
  const formOpen = ref(false)
  const formPreset = ref<Preset>({})
  function openForm(chosen: Preset = {}): void {
    formPreset.value = chosen
    formOpen.value = true
  }
  provide(openRunFormKey, openForm)
  provide(beginLineKey, (line) => void next.value?.begin(line))
  const liveOpen = ref(false)
  const livePreset = ref<Preset>({})
  function openLive(chosen: Preset = {}): void {
    if (!campaign.value?.simulator) return
    livePreset.value = chosen
    liveOpen.value = true
  }
  provide(openLiveKey, openLive)
  /** In the campaign's own words, so that it can be typed as it stands. */
  const lineExample = computed(() => {
    const knob = campaign.value?.knobs[0]
    const workload = campaign.value?.workloads[0]
    if (!knob || !workload) return ''
    const up = knob.stock + knob.step * knob.away
    const value = knob.stock === 0 && up > 0 ? `+${up}` : String(up)
    return `${knob.key} ${value} ${workload.name.toLowerCase().split(' ')[0]} 98,4 72c 212w ok`
  })
  for (const [stage, key] of Object.entries(stageKeys)) useShortcut(key, () => router.push({ name: stage, params: params() }))
  useShortcut('n', () => openForm())
  useShortcut('i', () => router.push({ name: 'Lab', params: params() }))
  useShortcut('e', () => router.push({ name: 'Tonight', params: params() }))
  useShortcut('l', () => openLive())
  return { ...query, formOpen, formPreset, openForm, liveOpen, livePreset, openLive, lineExample }
}
