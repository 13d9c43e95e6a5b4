import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { document, recordsOf, rowsOf, type Database } from '../src/backend/platform/db.ts'
import { DAY_MS } from '../src/core/shared/duration.ts'
import { Programs } from '../src/drivers/live/programs.ts'
import { runMuchDue } from '../src/drivers/live/runDue.ts'
import { START } from '../src/testing/builders.ts'
import { SHOP } from '../src/testing/world.ts'
import { perSecond, report } from './measure.ts'
import { makeDue, ORDERS, parkRuns, withShop } from './shop.ts'

/** Both are timed so often, by turns, and the best of each counts: the machine has other things to do. */
const TURNS = 3

/** Due runs resumed, beside claiming and updating the same rows and inserting their ledger alone. */
export async function measureResume(): Promise<void> {
  let [ours, raw] = [0, 0]
  let written: Written[] = []
  for (let turn = 0; turn < TURNS; turn += 1) {
    await withDueRuns(async (db) => {
      ours = Math.max(ours, await resumeAll(db))
      written = await rowsOf(
        db,
        writtenRow,
        sql`select kind, entry from ledger where run_id = (select min(id) from runs)
        order by id offset 2`,
      )
    })
    await withDueRuns(async (db) => {
      const rate = await perSecond(ORDERS, async () => {
        while ((await claimAndUpdate(db, written)) > 0);
      })
      raw = Math.max(raw, rate)
    })
  }
  report('due runs: exclusion, split, decision to send', ours, 'PostgreSQL, the same rows', raw)
}

const withDueRuns = (work: (db: Database) => Promise<void>): Promise<void> =>
  withShop(async (db) => {
    await parkRuns(db)
    await makeDue(db)
    await work(db)
  })

/** Moves every due run and returns how many a second. Throws when a message is missing. */
export async function resumeAll(db: Database): Promise<number> {
  const programs = new Programs()
  const rate = await perSecond(ORDERS, async () => {
    while ((await runMuchDue(db, programs, SHOP)) > 0);
  })
  const { rows } = await db.execute(
    "select count(*) as count from messages where status = 'queued'",
  )
  const decided = Number(rows[0]?.['count'])
  if (decided !== ORDERS) throw new Error(`Only ${decided} messages were decided`)
  return rate
}

const writtenRow = z.object({
  kind: z.string(),
  entry: document<object>(),
})
type Written = z.infer<typeof writtenRow>

/** What PostgreSQL itself needs for the rows of one batch: claim, update, the same ledger rows. */
async function claimAndUpdate(db: Database, written: readonly Written[]): Promise<number> {
  return db.transaction(async (tx) => {
    const { rows } = await tx.execute(sql`
      with claimed as (
        select shop_id, id, workflow_id, version, customer_id, subject_id from runs
        where shop_id = ${SHOP} and due_at <= ${START + 2 * DAY_MS}
        order by due_at, id limit 500 for update skip locked),
      moved as (
        update runs set due_at = ${START + 9 * DAY_MS}, step = 'w2' from claimed
        where runs.shop_id = claimed.shop_id and runs.id = claimed.id returning runs.id),
      written as (
        insert into ledger (shop_id, at, workflow_id, version, run_id, customer_id, subject_id, kind,
          entry)
        select ${SHOP}, ${START}, workflow_id, version, id, customer_id, subject_id, kind, entry
        from claimed cross join jsonb_to_recordset(${recordsOf(written)}) as e(kind text, entry jsonb)
        returning 1)
      select count(*) as count from moved`)
    return Number(rows[0]?.['count'])
  })
}
