/** The look: paper and ink, petrol for action, burnt orange for warning. One set of colours for pages, parts and charts. */
import { usePreferredDark, useStorage } from '@vueuse/core'
import { theme as antTheme } from 'ant-design-vue'
import { computed, watchEffect } from 'vue'

const light = {
  ground: '#F6F3EC',
  sheet: '#FFFDF8',
  ink: '#1F2A30',
  quiet: '#5B666B',
  rule: '#D9D3C7',
  petrol: '#0B5563',
  orange: '#A8470F',
  ochre: '#8A5F00',
  moss: '#3A6534',
  plum: '#74376A',
  wash: '#EAF1F1',
}
const dim: typeof light = {
  ground: '#14191C',
  sheet: '#1D2529',
  ink: '#E8E3D8',
  quiet: '#A3ADB0',
  rule: '#323C41',
  petrol: '#6FC0CC',
  orange: '#EE9A62',
  ochre: '#D9B25A',
  moss: '#93C08A',
  plum: '#D79ACB',
  wash: '#22333A',
}

/** Until one is chosen the system's own preference is followed. */
export type Choice = 'light' | 'dim' | 'as the system'
export const choice = useStorage<Choice>('trelvo-theme', 'as the system')
const systemDark = usePreferredDark()

export const isDim = computed(() => (choice.value === 'as the system' ? systemDark.value : choice.value === 'dim'))
export const colours = computed(() => (isDim.value ? dim : light))

/** Keeps the style sheet's variables equal to the colours here. Called once, by the root component. */
export function useThemeVariables(): void {
  watchEffect(() => {
    const root = document.documentElement
    for (const [name, colour] of Object.entries(colours.value)) root.style.setProperty(`--${name}`, colour)
    root.dataset.theme = isDim.value ? 'dim' : 'light'
    root.style.colorScheme = isDim.value ? 'dark' : 'light'
  })
}

/** The component library in the same colours and faces. */
export const antConfig = computed(() => {
  const c = colours.value
  return {
    algorithm: isDim.value ? antTheme.darkAlgorithm : antTheme.defaultAlgorithm,
    token: {
      colorPrimary: c.petrol,
      colorLink: c.petrol,
      colorError: c.orange,
      colorWarning: c.ochre,
      colorSuccess: c.moss,
      colorText: c.ink,
      colorTextHeading: c.ink,
      colorTextSecondary: c.quiet,
      colorTextDescription: c.quiet,
      colorTextPlaceholder: c.quiet,
      colorTextLightSolid: isDim.value ? dim.ground : light.sheet,
      colorBgBase: c.sheet,
      colorBgContainer: c.sheet,
      colorBgElevated: c.sheet,
      colorBorder: c.rule,
      colorBorderSecondary: c.rule,
      borderRadius: 3,
      borderRadiusLG: 3,
      borderRadiusSM: 3,
      controlHeight: 36,
      fontFamily: "'B612', sans-serif",
      fontSize: 14,
      lineHeight: 20 / 14,
      boxShadow: 'none',
      boxShadowSecondary: `0 0 0 1px ${c.rule}`,
      motionDurationMid: '0.1s',
      motionDurationSlow: '0.15s',
      wireframe: false,
    },
  }
})
