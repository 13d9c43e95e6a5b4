import { sql } from 'drizzle-orm'
import type { Instant } from '../../core/shared/time.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { readToken, signedToken } from '../platform/signed.ts'
import { customers } from '../shop/tables.ts'

/** Whom an unsubscribe link is for. */
export interface Unsubscriber {
  shopId: string
  customerId: string
}

/** The opaque, signed part of an unsubscribe link. */
export function unsubscribeToken(secret: string, { shopId, customerId }: Unsubscriber): string {
  return signedToken(secret, 'unsubscribe', [shopId, customerId])
}

/** Whom a token is for, or null for one that was not made here. */
export function readUnsubscribeToken(secret: string, token: string): Unsubscriber | null {
  const values = readToken(secret, 'unsubscribe', token)
  if (!values) return null
  const [shopId, customerId] = values as [string, string]
  return { shopId, customerId }
}

/** What somebody has said about news and offers: yes, no, or never asked. */
export interface Preferences {
  email: boolean | null
  sms: boolean | null
  /** Whether text messages can be sent to them at all. */
  hasPhone: boolean
  /** What they have said so far, the newest first. */
  history: { at: Instant; channel: 'email' | 'sms'; given: boolean }[]
}

/** A person's preferences; null for one who is not there. */
export async function preferencesOf(
  db: Db,
  { shopId, customerId }: Unsubscriber,
): Promise<Preferences | null> {
  const [row] = await rowsOf<Omit<Preferences, 'history'> & Record<string, unknown>>(
    db,
    sql`select case when suppressed is not null then false else email_consent end as email,
      sms_consent as sms, phone is not null as "hasPhone"
    from customers where shop_id = ${shopId} and id = ${customerId}`,
  )
  if (!row) return null
  const history = await rowsOf<Preferences['history'][number] & Record<string, unknown>>(
    db,
    sql`select time as at, data->'consent'->>'channel' as channel,
      (data->'consent'->>'given')::boolean as given
    from events where shop_id = ${shopId} and customer_id = ${customerId}
      and type = 'consent.changed' order by time desc, seq desc limit 20`,
  )
  return { ...row, history }
}

/**
 * Stops marketing to a person. Doing it again changes nothing; a harder reason is kept. Returns
 * whether anything has changed.
 */
export async function unsubscribe(db: Db, { shopId, customerId }: Unsubscriber): Promise<boolean> {
  const { rowCount } = await db.execute(sql`
    update customers set suppressed = 'unsubscribed'
    where shop_id = ${shopId} and id = ${customerId} and suppressed is null`)
  return (rowCount ?? 0) > 0
}

/** Notes that an address does not exist, so that it is not written to again. */
export async function suppressBounced(db: Db, shopId: string, customerId: string): Promise<void> {
  await db
    .update(customers)
    .set({ suppressed: 'bounced' })
    .where(sql`${customers.shopId} = ${shopId} and ${customers.id} = ${customerId}`)
}

/** The people whom text messages reach at a number. */
export async function customersWithMobile(
  db: Db,
  shopId: string,
  mobile: string,
): Promise<string[]> {
  const rows = await rowsOf<{ id: string }>(
    db,
    sql`select id from customers where shop_id = ${shopId} and mobile = ${mobile} order by id`,
  )
  return rows.map(({ id }) => id)
}
