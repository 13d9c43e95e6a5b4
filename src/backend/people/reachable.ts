import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { Reachable } from '../../contract/people.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { readClock, type Shop } from '../shop/index.ts'

const row = z.object({
  customerId: z.string(),
  may: z.boolean().nullable(),
  saidAt: z.number().nullable(),
  saidHow: z.string().nullable(),
  quietUntil: z.number().nullable(),
})

/**
 * Whether marketing may be sent to an address or a number, by what everybody who has it said, and why not: for other systems
 * that write to the same people.
 */
export async function reachable(
  db: Db,
  shop: Shop,
  { channel, address }: { channel: 'email' | 'sms'; address: string },
): Promise<Reachable> {
  const { now } = await readClock(db, shop.id)
  const said = channel === 'email' ? sql`c.email_said_at as "saidAt", c.email_said_how as "saidHow", c.may_email as may` : sql`c.sms_said_at as "saidAt", c.sms_said_how as "saidHow", c.may_text as may`
  const has = channel === 'email' ? sql`lower(c.email) = ${address.toLowerCase()}` : sql`c.mobile = ${address}`
  const people = await rowsOf(db, row, sql`select c.id as "customerId", c.quiet_until as "quietUntil", ${said}
    from customers c where c.shop_id = ${shop.id} and ${has} order by c.id limit 50`)
  const [dead] = channel === 'sms' ? [] : await rowsOf(db, z.object({ since: z.number() }), sql`select since from dead_addresses
    where shop_id = ${shop.id} and address = ${address.toLowerCase()}`)
  const reasons: Reachable['reasons'] = []
  if (people.length === 0) reasons.push('unknown')
  if (dead) reasons.push('deadAddress')
  // Of several who share an address, one who said no is enough.
  if (people.some(({ may }) => may === false)) reasons.push('saidNo')
  else if (people.length > 0 && !people.some(({ may }) => may === true)) reasons.push('neverAsked')
  if (people.some(({ quietUntil }) => quietUntil !== null && quietUntil > now)) reasons.push('quiet')
  return { mayMarket: reasons.length === 0, reasons, deadSince: dead?.since ?? null, people }
} // prettier-ignore
