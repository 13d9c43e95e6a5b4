import { setTimeout as pause } from 'node:timers/promises'
import { postgresSince, postgresTimes, startWorkers } from './process.ts'
import { SHOPS, type Shops } from './shops.ts'
import type { Sink } from './sink.ts'

const SECONDS = 30

/** What a worker and its database take of a processor while nothing is to be done in any shop. */
export async function measureIdle(shops: Shops, sink: Sink): Promise<void> {
  const [worker] = await startWorkers(shops, sink, 1)
  if (!worker) throw new Error('No worker was started')
  // A worker looks once at each shop when it starts.
  while (!(await firstRoundsAreOver(shops))) await pause(1000)
  await pause(5000)
  const [own, database] = [worker.seconds(), postgresTimes()]
  await pause(SECONDS * 1000)
  const share = (seconds: number) => `${((100 * seconds) / SECONDS).toFixed(1)} % of a processor`
  console.log(`${SHOPS} shops in which nothing happens: the worker takes ${share(worker.seconds() - own)}, PostgreSQL ${share(postgresSince(database))}`) // prettier-ignore
  await worker.stop()
}

async function firstRoundsAreOver({ db }: Shops): Promise<boolean> {
  const { rows } = await db.execute<{ count: number }>(
    `select count(*)::int as count from shop_rounds`,
  )
  return (rows[0]?.count ?? 0) >= 2 * SHOPS
}
