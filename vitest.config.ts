import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    // Half of what a test of the backend takes is PostgreSQL's: two at a time fit on two processors.
    maxWorkers: '100%',
    projects: [
      {
        test: {
          name: 'core',
          // Files share what they import: nothing in it keeps anything from one test to the next.
          isolate: false,
          // Property tests on a busy machine.
          testTimeout: 60_000,
          include: ['src/{core,commands}/**/*.test.ts', 'src/web/**/*.test.ts'],
        },
      },
      {
        test: {
          name: 'screens',
          isolate: false,
          // What people see and press, in a browser's document without a browser.
          environment: 'jsdom',
          include: ['src/web/**/*.test.tsx'],
          setupFiles: ['src/web/testing/setup.ts'],
          testTimeout: 60_000,
        },
      },
      {
        test: {
          name: 'backend',
          isolate: false,
          include: ['src/{backend,cli,drivers,server,worker,simulated,demo}/**/*.test.ts'],
          globalSetup: ['src/testing/globalSetup.ts'],
          testTimeout: 180_000,
          hookTimeout: 180_000,
        },
      },
    ],
  },
})
