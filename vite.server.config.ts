import { defineConfig } from 'vite'

/** Bundles what runs on Node: the command line, server, worker, the demo that holds both, and the threads in which its past is lived through. */
export default defineConfig({
  build: {
    ssr: true,
    outDir: 'dist/server',
    emptyOutDir: true,
    target: 'node20',
    rolldownOptions: {
      input: {
        server: 'src/server/main.ts',
        worker: 'src/worker/main.ts',
        demo: 'src/demo/main.ts',
        yomble: 'src/cli/main.ts',
        lives: 'src/demo/lived/thread.ts',
      },
    },
  },
})
