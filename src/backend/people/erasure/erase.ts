import { createHash, randomBytes } from 'node:crypto'
import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { EventData } from '../../../core/events/cloudEvent.ts'
import { anonymousData, anonymousEntry } from '../../../core/people/anonymous.ts'
import { forgetAnswers } from '../../accounts/index.ts'
import { renameCoupons } from '../../coupons/index.ts'
import { renameMessages } from '../../messages/queue.ts'
import { arrayOf, document, recordsOf, rowsOf, type Database, type Db } from '../../platform/db.ts'
import { AppError } from '../../platform/errors.ts'
import { appendActs, renameLedger } from '../../runs/ledger.ts'
import { renameRuns } from '../../runs/store.ts'
import { lockCustomers, readClock, rememberErased } from '../../shop/index.ts'
import { personRow, removeCopies } from './copies.ts'

/** What takes the place of their ids: one name for each, by a key that is thrown away afterwards. */
interface Renaming {
  of: (id: string) => string
  inSql: (id: SQL) => SQL
}

function newNames(): Renaming {
  const salt = randomBytes(24).toString('hex')
  return {
    of: (id) => `erased-${createHash('md5').update(salt + id).digest('hex').slice(0, 20)}`,
    inSql: (id) => sql`'erased-' || left(md5(${salt}::text || ${id}), 20)`,
  }
} // prettier-ignore

/**
 * Erases somebody: removes what identifies them everywhere, in one transaction. What was bought, sent and decided is counted
 * as before, of nobody. A digest of their id, address and phone number is remembered, so that what comes in late does not
 * bring them back. It cannot be undone. Throws AppError `not_found`.
 */
export async function erasePerson(
  db: Database,
  shopId: string,
  customerId: string,
  person: string,
): Promise<void> {
  await db.transaction(async (tx) => {
    await lockCustomers(tx, shopId, [customerId])
    const [found] = await rowsOf(tx, personRow, sql`select id, email, phone from customers
      where shop_id = ${shopId} and id = ${customerId}`)
    if (!found) throw new AppError('not_found', 'There is nobody by that id.')
    const names = newNames()
    const { now } = await readClock(tx, shopId)
    await removeCopies(tx, shopId, found)
    await forgetAnswers(tx, shopId)
    await renameMessages(tx, shopId, customerId, names.inSql)
    await renameRuns(tx, shopId, customerId, names.inSql)
    await renameLedger(tx, shopId, customerId, { renamed: names.inSql, entryOf: anonymousEntry })
    await renameCoupons(tx, shopId, customerId, names.inSql)
    await renameThings(tx, shopId, customerId, names.inSql)
    await renameEvents(tx, shopId, customerId, names)
    await tx.execute(sql`delete from customers where shop_id = ${shopId} and id = ${customerId}`)
    await rememberErased(tx, shopId, found, { at: now, person })
    const entry = { kind: 'acted', person, act: { did: 'erase' } } as const
    await appendActs(tx, shopId, now, [{ customerId: names.of(customerId), entry }])
  })
} // prettier-ignore

/** Orders, subscriptions and reviews: what was bought stays, of nobody. */
async function renameThings(
  db: Db,
  shopId: string,
  customerId: string,
  renamed: Renaming['inSql'],
): Promise<void> {
  const own = sql`shop_id = ${shopId} and customer_id = ${customerId}`
  await db.execute(sql`
    update order_lines set order_id = ${renamed(sql`order_id`)}, variant = null
    where shop_id = ${shopId} and order_id in (select id from orders where ${own})`)
  await db.execute(sql`
    update reviews set id = ${renamed(sql`id`)}, order_id = ${renamed(sql`order_id`)},
      customer_id = ${renamed(sql`customer_id`)}, text = null
    where ${own}`)
  await db.execute(sql`
    update orders set id = ${renamed(sql`id`)}, number = ${renamed(sql`id`)},
      customer_id = ${renamed(sql`customer_id`)}, shipping_region = null, tracking_url = null, details = '{}'
    where ${own}`)
  await db.execute(sql`
    update subscriptions set id = ${renamed(sql`id`)}, customer_id = ${renamed(sql`customer_id`)}, url = null
    where ${own}`)
}

const eventRow = z.object({ seq: z.int(), data: document<EventData>() })

async function renameEvents(
  db: Db,
  shopId: string,
  customerId: string,
  names: Renaming,
): Promise<void> {
  const rows = await rowsOf(db, eventRow, sql`select seq, data from events
    where shop_id = ${shopId} and customer_id = ${customerId}`)
  const records = rows.map(({ seq, data }) => ({ seq, data: anonymousData(data, names.of) }))
  const seqs = arrayOf(rows.map(({ seq }) => seq), 'bigint')
  await db.execute(sql`
    update events e set data = r.data, customer_id = ${names.inSql(sql`e.customer_id`)},
      subject_id = ${names.inSql(sql`e.subject_id`)}, event_id = ${names.inSql(sql`e.event_id`)}
    from jsonb_to_recordset(${recordsOf(records)}) as r(seq bigint, data jsonb)
    where e.shop_id = ${shopId} and e.seq = any(${seqs}) and e.seq = r.seq`)
} // prettier-ignore
