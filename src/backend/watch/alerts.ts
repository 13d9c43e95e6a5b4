import { and, asc, eq, isNull, notInArray, sql } from 'drizzle-orm'
import { alertsOf } from '../../core/alerts/alerts.ts'
import type { Database, Db } from '../platform/db.ts'
import { realNow } from '../platform/realTime.ts'
import { readClock } from '../shop/index.ts'
import { alertFacts } from './alertFacts.ts'
import { alerts } from './tables.ts'

export type KeptAlert = typeof alerts.$inferSelect

/** Looks at a shop, and keeps what is not as it was; what is over goes. */
export async function watchShop(db: Database, shopId: string): Promise<void> {
  const { now } = await readClock(db, shopId)
  const found = alertsOf(await alertFacts(db, shopId, now))
  await db.transaction(async (tx) => {
    const names = found.map(({ code, about }) => `${code} ${about}`)
    await tx.delete(alerts).where(and(eq(alerts.shopId, shopId), names.length === 0 ? undefined : notInArray(sql`${alerts.code} || ' ' || ${alerts.about}`, names))) // prettier-ignore
    for (const { code, about, says, to } of found) {
      await tx
        .insert(alerts)
        .values({ shopId, code, about, says, goesTo: to, since: now })
        .onConflictDoUpdate({
          target: [alerts.shopId, alerts.code, alerts.about],
          set: { says, goesTo: to },
        })
    }
  })
}

/** What is not as it was in a shop, what has lasted longest first. */
export const listAlerts = (db: Db, shopId: string): Promise<KeptAlert[]> =>
  db.select().from(alerts).where(eq(alerts.shopId, shopId)).orderBy(asc(alerts.since))

/** Of that, what its owners were not told of yet. */
export const untoldAlerts = (db: Db, shopId: string): Promise<KeptAlert[]> =>
  db
    .select()
    .from(alerts)
    .where(and(eq(alerts.shopId, shopId), isNull(alerts.toldAt)))
    .orderBy(asc(alerts.since))

/** Notes that they were. */
export async function noteTold(db: Db, told: readonly KeptAlert[]): Promise<void> {
  for (const { shopId, code, about } of told) {
    await db
      .update(alerts)
      .set({ toldAt: realNow() })
      .where(and(eq(alerts.shopId, shopId), eq(alerts.code, code), eq(alerts.about, about)))
  }
}
