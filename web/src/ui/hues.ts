/** The same setting in the same hue everywhere: the golden angle keeps neighbours apart, however many there are. */
import { isDim } from '../composables/theme'

export const hueOf = (settingId: number): string =>
  `hsl(${Math.round((settingId * 137.508 + 150) % 360)} 42% ${isDim.value ? 70 : 33}%)`
