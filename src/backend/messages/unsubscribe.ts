import { createHmac, timingSafeEqual } from 'node:crypto'
import { sql } from 'drizzle-orm'
import type { Db } from '../platform/db.ts'
import { customers } from '../shop/tables.ts'

/** Whom an unsubscribe link is for. */
export interface Unsubscriber {
  shopId: string
  customerId: string
}

const sign = (secret: string, payload: string): string =>
  createHmac('sha256', secret).update(`unsubscribe.${payload}`).digest('base64url')

/** The opaque, signed part of an unsubscribe link. */
export function unsubscribeToken(secret: string, { shopId, customerId }: Unsubscriber): string {
  const payload = Buffer.from(JSON.stringify([shopId, customerId])).toString('base64url')
  return `${payload}.${sign(secret, payload)}`
}

/** Whom a token is for, or null for one that was not made here. */
export function readUnsubscribeToken(secret: string, token: string): Unsubscriber | null {
  const [payload = '', signature = ''] = token.split('.')
  const wanted = Buffer.from(sign(secret, payload))
  const given = Buffer.from(signature)
  if (wanted.length !== given.length || !timingSafeEqual(wanted, given)) return null
  const [shopId, customerId] = JSON.parse(Buffer.from(payload, 'base64url').toString()) as [
    string,
    string,
  ]
  return { shopId, customerId }
}

/** Stops marketing to a person. Doing it again changes nothing; a harder reason is kept. */
export async function unsubscribe(db: Db, { shopId, customerId }: Unsubscriber): Promise<void> {
  await db
    .update(customers)
    .set({ suppressed: sql`coalesce(${customers.suppressed}, 'unsubscribed')` })
    .where(sql`${customers.shopId} = ${shopId} and ${customers.id} = ${customerId}`)
}

/** Notes that an address does not exist, so that it is not written to again. */
export async function suppressBounced(db: Db, shopId: string, customerId: string): Promise<void> {
  await db
    .update(customers)
    .set({ suppressed: 'bounced' })
    .where(sql`${customers.shopId} = ${shopId} and ${customers.id} = ${customerId}`)
}
