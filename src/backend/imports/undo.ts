import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { readCloudEvent } from '../../core/events/cloudEvent.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { formatInstant } from '../../core/shared/time.ts'
import { document, rowsOf, type Database, type Transaction } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { projectEvents, readClock } from '../shop/index.ts'
import { endImport, findImport, type Import } from './store.ts'
import { IMPORT_SOURCE } from './things.ts'

const TABLES = ['customers', 'orders', 'subscriptions', 'products', 'dead_addresses'] as const

/**
 * Undoes an import: what it told is forgotten, what it wrote over stands as before, and what was told of the same people since
 * holds all the same. Throws AppError `conflict` unless it ended less than a day ago.
 */
export async function undoImport(db: Database, shopId: string, importId: string): Promise<void> {
  const found = await findImport(db, shopId, importId)
  const { now } = await readClock(db, shopId)
  const isFresh = found.endedAt !== null && now - found.endedAt <= DAY_MS
  if ((found.state !== 'done' && found.state !== 'failed') || !isFresh) {
    throw new AppError('conflict', 'An import can be undone for a day after it ended.')
  }
  await db.transaction(async (tx) => {
    // What stood there comes back below; an order that did not is known by its events alone.
    await tx.execute(sql`insert into import_before (shop_id, import_id, "of", id, before)
      select distinct shop_id, ${importId}, 'orders', subject_id, null::jsonb from events
      where shop_id = ${shopId} and source = ${IMPORT_SOURCE} and type like 'order.%' and subject_id is not null
        and seq > ${found.firstSeq ?? 0} and seq <= ${found.lastSeq ?? 0}
      on conflict do nothing`)
    await tx.execute(sql`delete from events where shop_id = ${shopId} and source = ${IMPORT_SOURCE}
      and seq > ${found.firstSeq ?? 0} and seq <= ${found.lastSeq ?? 0}`)
    await tx.execute(sql`delete from order_lines l using import_before b
      where b.shop_id = ${shopId} and b.import_id = ${importId} and b."of" = 'orders' and b.before is null
        and l.shop_id = b.shop_id and l.order_id = b.id`)
    for (const table of TABLES) await restore(tx, shopId, importId, table)
    await tellAgain(tx, shopId, found)
    await tx.execute(sql`delete from import_before where shop_id = ${shopId} and import_id = ${importId}`)
  })
  await endImport(db, shopId, importId, { state: 'undone' })
} // prettier-ignore

/** Puts back what stood in a table; what was not there goes. */
async function restore(
  tx: Transaction,
  shopId: string,
  importId: string,
  table: (typeof TABLES)[number],
): Promise<void> {
  const of = sql.raw(table)
  const key = sql.raw(table === 'dead_addresses' ? 'address' : 'id')
  await tx.execute(sql`delete from ${of} t using import_before b
    where b.shop_id = ${shopId} and b.import_id = ${importId} and b."of" = ${table}
      and t.shop_id = b.shop_id and t.${key} = b.id`)
  const columns = await rowsOf(tx, z.object({ name: z.string() }), sql`
    select quote_ident(column_name) as name from information_schema.columns
    where table_schema = 'public' and table_name = ${table} and is_generated = 'NEVER'`)
  const names = sql.raw(columns.map(({ name }) => name).join(', '))
  const values = sql.raw(columns.map(({ name }) => `r.${name}`).join(', '))
  await tx.execute(sql`insert into ${of} (${names}) select ${values} from import_before b,
    jsonb_populate_record(null::${of}, b.before) r
    where b.shop_id = ${shopId} and b.import_id = ${importId} and b."of" = ${table} and b.before is not null`)
} // prettier-ignore

const eventRow = z.object({
  id: z.string(),
  source: z.string(),
  type: z.string(),
  at: z.int(),
  data: document<object>(),
})

/** What came from elsewhere about the same people since the import began is brought to bear once more. */
async function tellAgain(tx: Transaction, shopId: string, found: Import): Promise<void> {
  const rows = await rowsOf(tx, eventRow, sql`
    select e.event_id as id, e.source, e.type, e.time as at, e.data from events e
    join import_before b on b.shop_id = e.shop_id and b.import_id = ${found.id} and b."of" = 'customers'
      and b.id = e.customer_id
    where e.shop_id = ${shopId} and e.seq > ${found.firstSeq ?? 0} order by e.seq`)
  const events = rows.flatMap(({ at, ...event }) => {
    const read = readCloudEvent({ specversion: '1.0', time: formatInstant(at), ...event })
    return read.ok ? [{ event: read.event, at }] : []
  })
  if (events.length > 0) await projectEvents(tx, shopId, events)
} // prettier-ignore
