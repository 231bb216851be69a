import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'
import vuetify from 'vite-plugin-vuetify'

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  build: {
    // Nothing inlined: the page's policy lets it load from its own server only.
    assetsInlineLimit: 0,
  },
})
