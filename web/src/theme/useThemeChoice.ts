import { computed, ref, watchEffect } from 'vue'
import { useTheme } from 'vuetify'

export type ThemeChoice = 'system' | 'day' | 'bay'

const KEPT = 'kelvok.theme'
const dark = window.matchMedia('(prefers-color-scheme: dark)')
const systemDark = ref(dark.matches)
dark.addEventListener('change', (event) => (systemDark.value = event.matches))

const stored = localStorage.getItem(KEPT)
const choice = ref<ThemeChoice>(stored === 'day' || stored === 'bay' ? stored : 'system')

/** Day or Bay: the system's setting until somebody chooses. */
export function useThemeChoice() {
  const theme = useTheme()
  const name = computed(() =>
    choice.value === 'system' ? (systemDark.value ? 'bay' : 'day') : choice.value,
  )
  watchEffect(() => {
    theme.change(name.value)
    document.documentElement.className = `v-theme--${name.value}`
  })
  function toggle() {
    choice.value = name.value === 'day' ? 'bay' : 'day'
    localStorage.setItem(KEPT, choice.value)
  }
  return { name, toggle }
}
