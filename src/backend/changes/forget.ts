import { sql } from 'drizzle-orm'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Database, Db } from '../platform/db.ts'

/** Longer than any window whose results can be asked for. */
const LONGEST_WINDOW_DAYS = 366

/**
 * Forgets the days that what has happened since may change: of results those on which somebody entered to whom
 * something happened within their days, of what left the days on which it happened. Nobody counts a day meanwhile, or it might
 * be kept without what was seen to here.
 */
export async function forgetChanged(db: Database, shopId: string): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${LOCK + shopId}, 0))`)
    await tx.execute(sql`
      with gone as materialized (
        delete from changes where shop_id = ${shopId} returning customer_id, at
      ), touched as (
        select runs.workflow_id, runs.entered_at, min(gone.at) as at
        from (select distinct customer_id, at from gone) gone
        join runs on runs.shop_id = ${shopId} and runs.customer_id = gone.customer_id
          and runs.entered_at <= gone.at
          and runs.entered_at >= gone.at - ${LONGEST_WINDOW_DAYS * DAY_MS}::bigint
        group by 1, 2
      ), sending as (
        delete from sending_days d using (select distinct at from gone) gone
        where d.shop_id = ${shopId} and d.day <= gone.at and gone.at < d.until
      )
      delete from result_days d using touched t
      where d.shop_id = ${shopId} and d.workflow_id = t.workflow_id
        and d.day <= t.entered_at and t.entered_at < d.until
        and t.at <= t.entered_at + d.window_days * ${DAY_MS}::bigint`)
  })
}

const LOCK = 'days counted of '

/** Says that days are being counted, until the transaction ends: what has changed is not seen to meanwhile. */
export async function countingDays(db: Db, shopId: string): Promise<void> {
  await db.execute(sql`select pg_advisory_xact_lock_shared(hashtextextended(${LOCK + shopId}, 0))`)
}
