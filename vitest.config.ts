import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'core', include: ['src/core/**/*.test.ts', 'src/web/**/*.test.ts'] } },
      {
        test: {
          name: 'backend',
          include: ['src/{backend,drivers,server,worker,standins,demo}/**/*.test.ts'],
          globalSetup: ['src/testing/globalSetup.ts'],
          testTimeout: 60_000,
          hookTimeout: 60_000,
        },
      },
    ],
  },
})
