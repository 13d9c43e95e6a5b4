import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Database } from '../src/backend/platform/db.ts'
import { setClock } from '../src/backend/shop/index.ts'
import { createWorkflow, goLive } from '../src/backend/workflows/index.ts'
import { DAY_MS } from '../src/core/shared/duration.ts'
import { Programs } from '../src/drivers/live/programs.ts'
import { runMuchDue } from '../src/drivers/live/runDue.ts'
import { aDefinition, anEmail, happened, START, wait } from '../src/testing/builders.ts'
import { SHOP } from '../src/testing/world.ts'
import { withShop } from './shop.ts'

const PASSES = 4
const RUNS = 50_000

/** Neighbours in the table are not due together, as it is with waits of different lengths that end at some hour of the day. */
const SHUFFLE = 7919

/** What 200,000 runs that pass through leave behind: how large the table is for each, and how much of it is room that nothing is in. */
export async function measurePassing(): Promise<void> {
  await withShop(async (db) => {
    const id = await createWorkflow(db, SHOP, aDefinition({
      exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
      steps: [wait('one', 'P1D'), wait('two', 'P1D'), wait('three', 'P1D'), anEmail('m')],
    })) // prettier-ignore
    await goLive(db, SHOP, id, 0, 'bench')
    const programs = new Programs()
    for (let pass = 0; pass < PASSES; pass += 1) {
      const begin = START + pass * 10 * DAY_MS
      await park(db, id, pass, begin)
      for (let day = 1; day <= 3; day += 1) {
        await setClock(db, SHOP, begin + day * DAY_MS)
        while ((await runMuchDue(db, programs, SHOP)) > 0);
      }
      console.log(
        `runs after ${((pass + 1) * RUNS).toLocaleString('en')} have passed: ${await sizeOf(db)}`,
      )
    }
    const { rows } = await db.execute<{ moved: number; hot: number }>(sql`select n_tup_upd::int as moved, n_tup_hot_upd::int as hot from pg_stat_user_tables where relname = 'runs'`) // prettier-ignore
    console.log(`of ${rows[0]?.moved} changes ${rows[0]?.hot} touched no index`)
    await db.execute('vacuum full runs')
    console.log(`the same written anew, without any room: ${await sizeOf(db)}`)
  })
}

async function park(db: Database, workflowId: string, pass: number, begin: number): Promise<void> {
  const id = sql.raw(`'p${pass}-' || n`)
  await db.execute(sql`insert into customers (shop_id, id, as_of) select ${SHOP}, ${id}, ${begin} from generate_series(1, ${RUNS}::int) as n`) // prettier-ignore
  await db.execute(sql`
    insert into runs (shop_id, workflow_id, version, customer_id, subject_id, idempotency_key, entered_at, status, step, since, due_at, parked_until)
    select ${SHOP}, ${workflowId}, 1, ${id}, ${id}, 'bench:' || ${id}, ${begin}, 'inProgress', 'one', ${begin}, at, at
    from generate_series(1, ${RUNS}::int) as n, lateral (select ${begin + DAY_MS / 2}::bigint + n::bigint * ${SHUFFLE} % ${RUNS}) d(at)`)
}

const size = z.object({ table: z.number(), indexes: z.number(), rows: z.number() })

async function sizeOf(db: Database): Promise<string> {
  const [found] = await rowsOf(db, size, sql`select pg_table_size('runs') as table, pg_indexes_size('runs') as indexes, (select count(*) from runs) as rows`) // prettier-ignore
  if (!found) throw new Error('The table has no size')
  const each = (bytes: number) => `${Math.round(bytes / found.rows)}`
  return `${each(found.table)} bytes each, and ${each(found.indexes)} in indexes`
}
