import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'

const MEGABYTE = 1e6

/** The name that the server gave the file. */
const nameOf = (response: Response): string =>
  /filename="([^"]+)"/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? 'trelvo'

/**
 * Fetches a file that takes the server a while, and says how far it is: how long it has been put together, then how much has
 * arrived. `said` is empty while nothing goes on; `trouble` says what went wrong.
 */
export function useDownload() {
  const began = ref(0)
  const now = ref(0)
  const arrived = ref(0)
  const whole = ref(0)
  const trouble = ref('')
  const { pause, resume } = useIntervalFn(() => (now.value = Date.now()), 500, { immediate: false })
  const said = computed(() => {
    if (!began.value) return ''
    if (arrived.value) {
      const megabytes = `${(arrived.value / MEGABYTE).toFixed(1)} MB`
      return whole.value ? `${megabytes} of ${(whole.value / MEGABYTE).toFixed(1)} MB` : megabytes
    }
    return `Putting it together, ${Math.max(0, Math.round((now.value - began.value) / 1000))} s`
  })

  async function download(address: string): Promise<void> {
    if (began.value) return
    trouble.value = ''
    arrived.value = whole.value = 0
    began.value = now.value = Date.now()
    resume()
    try {
      const response = await fetch(address)
      if (!response.ok || !response.body) {
        trouble.value = `The server answered ${response.status}: nothing was downloaded.`
        return
      }
      whole.value = Number(response.headers.get('content-length') ?? 0)
      const parts: BlobPart[] = []
      const reader = response.body.getReader()
      for (let part = await reader.read(); !part.done; part = await reader.read()) {
        parts.push(part.value as BlobPart)
        arrived.value += part.value.length
      }
      const link = document.createElement('a')
      link.href = URL.createObjectURL(new Blob(parts, { type: response.headers.get('content-type') ?? '' }))
      link.download = nameOf(response)
      link.click()
      setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
    } catch {
      trouble.value = 'The connection broke off: nothing was downloaded. Try again.'
    } finally {
      pause()
      began.value = 0
    }
  }
  return { said, trouble, download }
}
