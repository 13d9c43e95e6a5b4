import { setTimeout as pause } from 'node:timers/promises'
import { postgresSince, postgresTimes, startWorkers } from './process.ts'
import type { Shops } from './shops.ts'
import type { Sink } from './sink.ts'

const PEOPLE = 5000

/** How much sooner the same storm is over with two and three workers. */
export async function measureWorkers(shops: Shops, sink: Sink): Promise<void> {
  for (const count of [1, 2, 3]) {
    sink.restart()
    const workers = await startWorkers(shops, sink, count)
    await pause(3000)
    const before = [workers.map((worker) => worker.seconds()), postgresTimes()] as const
    await shops.raiseStorm(PEOPLE)
    const began = performance.now()
    while (sink.count() < PEOPLE) await pause(50)
    const seconds = (performance.now() - began) / 1000
    const own = workers.map((worker, index) => worker.seconds() - (before[0][index] ?? 0))
    const rate = Math.round(PEOPLE / seconds)
    console.log(`${count} ${count === 1 ? 'worker' : 'workers'}: ${rate} people a second moved and written to; a worker takes ${own.map((one) => (100 * one / seconds).toFixed(0)).join(', ')} % of a processor, PostgreSQL ${(100 * postgresSince(before[1]) / seconds).toFixed(0)} %`) // prettier-ignore
    for (const worker of workers) await worker.stop()
  }
}
