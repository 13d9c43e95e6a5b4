import { randomUUID } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { PersonAct } from '../../core/people/act.ts'
import { formatInstant } from '../../core/shared/time.ts'
import { arrayOf, rowsOf, type Database, type Db, type Transaction } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { releaseHeldOf } from '../messages/queue.ts'
import { lookAgain } from '../runs/store.ts'
import { appendActs } from '../runs/ledger.ts'
import { ingestEvents, lockCustomers, readClock } from '../shop/index.ts'

/**
 * Does something to a person and writes down who did it. Throws AppError `not_found`, or `conflict` where
 * it is so already.
 */
export async function actOnPerson(
  db: Database,
  shopId: string,
  customerId: string,
  { act, person }: { act: PersonAct; person: string },
): Promise<void> {
  if (act.did === 'consent') await tellConsent(db, shopId, customerId, { act, person })
  await db.transaction(async (tx) => {
    await lockCustomers(tx, shopId, [customerId])
    await carryOut(tx, shopId, customerId, act)
    const { now } = await readClock(tx, shopId)
    await appendActs(tx, shopId, now, [{ customerId, entry: { kind: 'acted', person, act } }])
  })
}

async function carryOut(
  tx: Transaction,
  shopId: string,
  customerId: string,
  act: PersonAct,
): Promise<void> {
  switch (act.did) {
    case 'quiet': {
      const { now } = await readClock(tx, shopId)
      const changed = await tx.execute(sql`update customers set quiet_until = ${act.until}
        where shop_id = ${shopId} and id = ${customerId}`)
      if (changed.rowCount === 0) throw new AppError('not_found', 'There is nobody by that id.')
      // What an earlier quiet has held back asks again.
      await lookAgain(tx, shopId, customerId, now)
      return releaseHeldOf(tx, shopId, customerId, now)
    }
    case 'consent':
    case 'erase':
      return
    case 'tag':
    case 'list':
      if ((await markPeople(tx, shopId, [customerId], act)).length > 0) return
      throw new AppError('conflict', `They are ${act.change === 'add' ? 'marked so' : 'without it'} already.`) // prettier-ignore
    case 'revive': {
      const gone = await tx.execute(sql`delete from dead_addresses d using customers c
        where d.shop_id = ${shopId} and c.shop_id = d.shop_id and c.id = ${customerId}
          and d.address = lower(c.email) and d.address = lower(${act.address})`)
      if (gone.rowCount === 0) throw new AppError('conflict', 'No mail has come back from that address.') // prettier-ignore
      return
    }
  }
}

/** Their word is told as any shop would tell it, so that workflows hear of it, too. */
async function tellConsent(
  db: Database,
  shopId: string,
  customerId: string,
  { act, person }: { act: Extract<PersonAct, { did: 'consent' }>; person: string },
): Promise<void> {
  await mustExist(db, shopId, customerId)
  const { channel, given, how } = act
  const { now } = await readClock(db, shopId)
  const [receipt] = await ingestEvents(db, shopId, [
    {
      specversion: '1.0',
      id: randomUUID(),
      source: 'yomble:people',
      type: 'consent.changed',
      time: formatInstant(now),
      data: { consent: { customerId, channel, given, how: `${how} (${person})`.slice(0, 100) } },
    },
  ])
  if (receipt?.status === 'accepted') return
  const problems = receipt?.status === 'refused' ? receipt.problems : []
  throw new AppError('bad_input', 'This consent cannot be noted.', problems)
}

async function mustExist(db: Db, shopId: string, customerId: string): Promise<void> {
  const rows = await rowsOf(db, z.object({ id: z.string() }), sql`select id from customers where shop_id = ${shopId} and id = ${customerId}`) // prettier-ignore
  if (rows.length === 0) throw new AppError('not_found', 'There is nobody by that id.')
}

export interface Label {
  did: 'tag' | 'list'
  name: string
  change: 'add' | 'remove'
}

/** Puts a tag on people or takes it off, or a list. Returns the ids of those for whom that changed something. */
export async function markPeople(
  tx: Transaction,
  shopId: string,
  ids: readonly string[],
  { did, name, change }: Label,
): Promise<string[]> {
  const add = change === 'add'
  const tags = sql`update customers c set tag_changes = c.tag_changes || jsonb_build_object(${name}::text, ${add}::boolean)`
  const lists = add
    ? sql`update customers c set lists = c.lists || to_jsonb(${name}::text)`
    : sql`update customers c set lists = c.lists - ${name}::text`
  const has =
    did === 'list'
      ? sql`c.lists ? ${name}`
      : sql`coalesce((c.tag_changes->>${name})::boolean, c.tags ? ${name})`
  const changed = await rowsOf(
    tx,
    z.object({ id: z.string() }),
    sql`${did === 'tag' ? tags : lists}
    where c.shop_id = ${shopId} and c.id = any(${arrayOf(ids, 'text')}) and (${has}) <> ${add}
    returning c.id`,
  )
  return changed.map(({ id }) => id)
}
