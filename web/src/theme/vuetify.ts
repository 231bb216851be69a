import 'vuetify/styles'
import { createVuetify, type ThemeDefinition } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

const nonce = document.querySelector<HTMLMetaElement>('meta[property=csp-nonce]')?.content

/** By daylight: paper and ink. */
const day: ThemeDefinition = {
  dark: false,
  colors: {
    background: '#f4f1ea',
    surface: '#fbf9f5',
    primary: '#1b2230',
    secondary: '#b9501a',
    error: '#93245c',
    info: '#2e5a88',
    success: '#1f6b4f',
    warning: '#8a6100',
  },
}

/** In the bay: dim slate. */
const bay: ThemeDefinition = {
  dark: true,
  colors: {
    background: '#161b22',
    surface: '#1e252e',
    primary: '#ece7dc',
    secondary: '#f08a4b',
    error: '#f07fb2',
    info: '#7fb0e6',
    success: '#6fcba2',
    warning: '#e5bc5a',
  },
}

export const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: {
    defaultTheme: 'day',
    themes: { day, bay },
    variations: false,
    ...(nonce ? { cspNonce: nonce } : {}),
  },
  defaults: {
    VBtn: { rounded: 'lg', height: 44, variant: 'outlined' },
    VTextField: { variant: 'outlined', rounded: 'lg', hideDetails: 'auto' },
    VTextarea: { variant: 'outlined', rounded: 'lg', hideDetails: 'auto' },
    VAutocomplete: { variant: 'outlined', rounded: 'lg', hideDetails: 'auto' },
    VSelect: { variant: 'outlined', rounded: 'lg', hideDetails: 'auto' },
  },
})
