import { spawn } from 'node:child_process'
import { readFile } from 'node:fs/promises'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Database } from '../src/backend/platform/db.ts'
import { DAY_MS } from '../src/core/shared/duration.ts'
import { START } from '../src/testing/builders.ts'
import { LINK_SECRET, SHOP } from '../src/testing/world.ts'
import { report } from './measure.ts'
import { resumeAll } from './resume.ts'
import { makeDue, ORDERS, parkRuns, withShop } from './shop.ts'

const FEW = 20_000
const MANY = 1_000_000

/** The same due runs among few that are parked and among many; and the memory of a worker there. */
export async function measureParked(): Promise<void> {
  const rates = new Map<number, number>()
  for (const parked of [FEW, MANY]) {
    await withShop(async (db) => {
      await parkMore(db, await parkRuns(db), parked)
      await makeDue(db)
      rates.set(parked, await resumeAll(db))
    })
  }
  const [few = 0, many = 0] = [FEW, MANY].map((parked) => rates.get(parked))
  report('due runs among 1,000,000 parked ones', many, 'the same among 20,000', few)
}

/** The most memory a worker process takes while it moves and hands over what is due. */
export async function measureMemory(): Promise<void> {
  for (const parked of [FEW, MANY]) {
    await withShop(async (db, url) => {
      await parkMore(db, await parkRuns(db), parked)
      await makeDue(db)
      const peak = await peakMemoryOfWorker(db, url)
      const others = parked.toLocaleString('en')
      console.log(`worker with ${ORDERS} due runs among ${others} parked ones: peak ${peak} MiB`)
    })
  }
}

/** Puts runs of other customers on their week-long wait. */
async function parkMore(db: Database, workflowId: string, count: number): Promise<void> {
  await db.execute(sql`
    insert into customers (shop_id, id, email, as_of)
    select ${SHOP}, 'parked' || n, 'parked' || n || '@example.org', ${START}
    from generate_series(1, ${count}::int) as n`)
  await db.execute(sql`
    insert into runs (shop_id, workflow_id, version, customer_id, subject_id, idempotency_key, entered_at,
      status, step, since, due_at, parked_until)
    select ${SHOP}, ${workflowId}, 1, 'parked' || n, 'parked' || n, 'bench:' || n, ${START},
      'inProgress', 'w2', ${START}, ${START + 9 * DAY_MS}::bigint + n, ${START + 9 * DAY_MS}::bigint + n
    from generate_series(1, ${count}::int) as n`)
  await db.execute(sql`
    insert into ledger (shop_id, at, workflow_id, version, run_id, customer_id, subject_id, kind, entry)
    select shop_id, entered_at, workflow_id, version, id, customer_id, subject_id, 'waits',
      jsonb_build_object('kind', 'waits', 'step', step, 'until', due_at)
    from runs where idempotency_key like 'bench:%'`)
}

/** Starts a worker, waits until it has moved every due run, and reads its peak resident memory. */
async function peakMemoryOfWorker(db: Database, url: string): Promise<number> {
  const worker = spawn(process.execPath, ['--import', 'tsx', 'src/worker/main.ts'], {
    env: {
      ...process.env,
      DATABASE_URL: url,
      // Nobody listens here, so no mail leaves the bench.
      SMTP_URL: 'smtp://127.0.0.1:9',
      LINK_SECRET,
      LOG_LEVEL: 'silent',
    },
    stdio: 'ignore',
  })
  try {
    while ((await dueCount(db)) > 0) {
      if (worker.exitCode !== null) throw new Error('The worker ended before the work did')
      await new Promise((resolve) => setTimeout(resolve, 200))
    }
    const status = await readFile(`/proc/${worker.pid}/status`, 'utf8')
    return Math.round(Number(/VmHWM:\s+(\d+) kB/.exec(status)?.[1]) / 1024)
  } finally {
    worker.kill('SIGKILL')
  }
}

async function dueCount(db: Database): Promise<number> {
  const [row] = await rowsOf(
    db,
    z.object({
      count: z.number(),
    }),
    sql`select count(*) as count from runs
    where shop_id = ${SHOP} and due_at <= ${START + 2 * DAY_MS}`,
  )
  return row?.count ?? 0
}
