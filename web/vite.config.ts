import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import vuetify from 'vite-plugin-vuetify'

/** Where `bin/dev` has the server. */
const server = 'http://127.0.0.1:8781'

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  build: {
    // Nothing inlined: the page's policy lets it load from its own server only.
    assetsInlineLimit: 0,
    // Vuetify's style sheet and the harness map's layout, which is loaded with the map only.
    chunkSizeWarningLimit: 1700,
  },
  test: { include: ['tests/*.test.ts'], environment: 'happy-dom' },
  server: {
    proxy: {
      '/api': {
        target: server,
        changeOrigin: true,
        // The server takes changes from its own page only; here that page is Vite's.
        headers: { origin: server },
      },
    },
  },
})
