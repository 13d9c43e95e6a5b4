import { Worker } from 'node:worker_threads'
import { sql } from 'drizzle-orm'
import { expect, test } from 'vitest'
import { openDatabase, type Database } from '../../backend/platform/db.ts'
import { freeDatabase, makeDatabase } from '../../testing/database.ts'
import { DEMO_SHOP, seedPast } from '../seed.ts'
import { liveInThread } from './inThreads.ts'
import type { LivePart } from './load.ts'

/** The thread as it is written; the demo has it built. */
const FROM_SOURCE = `import('tsx/esm/api').then(({ register }) => {
  register()
  return import(${JSON.stringify(new URL('thread.ts', import.meta.url).href)})
})`

const isWanted = (id: string): boolean => Number(id.slice(2)) % 150 === 0

/** What stands in the database of a past that was lived through, but for what is drawn anew each time. */
async function pastLivedBy(way: (url: string) => LivePart | undefined): Promise<object> {
  const url = await makeDatabase()
  const db = openDatabase(url)
  try {
    const livePart = way(url)
    const recent = await seedPast(db, () => undefined, { isWanted, ...(livePart && { livePart }) })
    return { recent, events: await rows(db, 'events', 'seq'), runs: await rows(db, 'runs', 'id'), ledger: await rows(db, 'ledger', 'id'), messages: await rows(db, 'messages', 'id'), customers: await rows(db, 'customers', 'id'), orders: await rows(db, 'orders', 'id') } // prettier-ignore
  } finally {
    await db.$client.end()
    freeDatabase(url)
  }
}

/** Workflows have ids that are drawn when they are made: they go by their place here. */
async function rows(db: Database, table: string, key: string): Promise<object[]> {
  const found = await db.execute<{ row: { workflow_id?: string } }>(sql`
    select to_jsonb(t) - 'workflow_id' as row from ${sql.identifier(table)} t
    where shop_id = ${DEMO_SHOP} order by ${sql.identifier(key)}`)
  return found.rows
}

test('in threads the same comes of it as in one', async () => {
  const here = await pastLivedBy(() => undefined)
  const inThreads = await pastLivedBy((url) =>
    liveInThread(url, (given) => new Worker(FROM_SOURCE, { eval: true, workerData: given })),
  )
  expect(inThreads).toEqual(here)
  expect(here).toMatchObject({ ledger: expect.arrayContaining([expect.anything()]) })
})
