import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [vue()],
  // one environment for all files of a worker: making one for each took half of the time
  test: {
    environment: 'happy-dom',
    include: ['src/**/*.test.ts'],
    reporters: ['dot'],
    isolate: false,
    // a busy machine may take its time; what never comes fails all the same
    testTimeout: 120_000,
    expect: { poll: { timeout: 60_000 } },
  },
})
