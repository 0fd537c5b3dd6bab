import { useStorage } from '@vueuse/core'

/** How many seconds of bench time a second on the simulator; kept from run to run. */
export const speed = useStorage<number | undefined>('trelvo-speed', 60)
