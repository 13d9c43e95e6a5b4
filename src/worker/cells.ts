import { cellConfigs, HOME } from '../backend/cells/index.ts'
import type { Config } from '../backend/platform/config.ts'
import { startWorker, type WorkerOptions } from './worker.ts'

/** Starts a worker for each cell in this process. Resolves to the function that stops them. */
export async function startWorkers({ config, ...options }: WorkerOptions): Promise<() => Promise<void>> {
  const stops: (() => Promise<void>)[] = []
  for (const [name, own] of cellConfigs(config)) {
    stops.push(await startWorker({ config: name === HOME ? own : elsewhere(own), ...options }))
  }
  return async () => {
    for (const stop of stops) await stop()
  }
} // prettier-ignore

/** What a process sends is counted in one place, whatever the cell. */
const elsewhere = (config: Config): Config => ({ ...config, WORKER_PORT: undefined })
