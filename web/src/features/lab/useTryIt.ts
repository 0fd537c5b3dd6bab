import { type Ref, ref } from 'vue'
import { useRouter } from 'vue-router'

import type { Campaign } from '../../api/campaigns'
import { problemsOf } from '../../api/client'
import { useAddSetting, useSettings } from '../../api/settings'

/** Makes a setting of a setting, or finds the one there is, and opens it on the climb, where it is run. */
export function useTryIt(campaign: Readonly<Ref<Campaign>>) {
  const router = useRouter()
  const { data: settings } = useSettings(() => campaign.value.id)
  const { mutateAsync, isPending } = useAddSetting()
  const failed = ref('')

  async function tryIt(values: Record<string, number>): Promise<void> {
    failed.value = ''
    const stock = Object.fromEntries(campaign.value.knobs.map((knob) => [knob.key, knob.stock]))
    const turned = Object.fromEntries(Object.entries(values).filter(([key, value]) => value !== stock[key]))
    const alike = (one: Record<string, number>): boolean =>
      Object.keys(one).length === Object.keys(turned).length && Object.entries(turned).every(([key, value]) => one[key] === value)
    try {
      const there = settings.value?.find((one) => alike(one.values))
      const setting = there ?? (await mutateAsync({ campaignId: campaign.value.id, body: { values: turned, note: '' } }))
      await router.push({ name: 'Climb', params: { id: campaign.value.id }, query: { setting: setting.id } })
    } catch (trouble) {
      failed.value = problemsOf(trouble)
        .map((one) => `${one.what} ${one.todo}`)
        .join(' ')
    }
  }
  return { tryIt, trying: isPending, failed }
}
