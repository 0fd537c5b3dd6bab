import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

import { guide } from './guide.ts'
import { licences } from './licences.ts'

export default defineConfig({
  plugins: [vue(), guide(), licences()],
  server: { proxy: { '/api': 'http://127.0.0.1:8737' } },
  build: {
    target: 'es2022',
    // the two libraries are large, change rarely, and are read from this machine's own disk
    chunkSizeWarningLimit: 1600,
  },
})
