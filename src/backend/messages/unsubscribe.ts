import { eq, sql } from 'drizzle-orm'
import { z } from 'zod'
import { CUSTOMER_CHANNELS } from '../../core/channels/catalogue.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { secretName } from '../platform/signed.ts'
import { waysOut } from './tables.ts'

/** Whom an unsubscribe link is for. */
export interface Unsubscriber {
  shopId: string
  customerId: string
}

/**
 * The secret part of somebody's unsubscribe link: the same in every message, and short whatever their id
 * is like, since it stands in a header whose lines have a limit (RFC 5322 2.1.1).
 */
export function unsubscribeToken(secret: string, { shopId, customerId }: Unsubscriber): string {
  return secretName(secret, 'unsubscribe', [shopId, customerId])
}

/** Makes somebody's unsubscribe link work, once and for all messages; returns its secret part. */
export async function keepWayOut(db: Db, secret: string, who: Unsubscriber): Promise<string> {
  const token = unsubscribeToken(secret, who)
  await db
    .insert(waysOut)
    .values({ token, ...who })
    .onConflictDoNothing()
  return token
}

/** Whom an unsubscribe link is for, or null for one that was not made here. */
export async function findUnsubscriber(db: Db, token: string): Promise<Unsubscriber | null> {
  const [row] = await db
    .select({ shopId: waysOut.shopId, customerId: waysOut.customerId })
    .from(waysOut)
    .where(eq(waysOut.token, token))
  return row ?? null
}

const allowed = z.object({
  email: z.boolean().nullable(),
  sms: z.boolean().nullable(),
  /** Whether text messages can be sent to them at all. */
  hasPhone: z.boolean(),
})
const said = z.object({
  at: z.number(),
  channel: z.enum(CUSTOMER_CHANNELS),
  given: z.boolean(),
  seq: z.number(),
})

/** What somebody has said about news and offers: yes, no, or never asked. */
export interface Preferences extends z.infer<typeof allowed> {
  /** What they have said so far, the newest first. */
  history: z.infer<typeof said>[]
  /** Changes whenever they say something. */
  state: string
}

/** A person's preferences; null for one who is not there. */
export async function preferencesOf(
  db: Db,
  { shopId, customerId }: Unsubscriber,
): Promise<Preferences | null> {
  const [row] = await rowsOf(
    db,
    allowed,
    sql`select may_email as email, may_text as sms, phone is not null as "hasPhone"
    from customers where shop_id = ${shopId} and id = ${customerId}`,
  )
  if (!row) return null
  const history = await rowsOf(
    db,
    said,
    sql`select time as at, coalesce(data->'consent'->>'channel', 'email') as channel,
      coalesce((data->'consent'->>'given')::boolean, false) as given, seq
    from events where shop_id = ${shopId} and customer_id = ${customerId}
      and type in ('consent.changed', 'message.unsubscribed', 'message.complained')
    order by time desc, seq desc limit 20`,
  )
  return { ...row, history, state: String(Math.max(0, ...history.map(({ seq }) => seq))) }
}

/** The people whom text messages reach at a number. */
export async function customersWithMobile(
  db: Db,
  shopId: string,
  mobile: string,
): Promise<string[]> {
  const rows = await rowsOf(
    db,
    z.object({
      id: z.string(),
    }),
    sql`select id from customers where shop_id = ${shopId} and mobile = ${mobile} order by id`,
  )
  return rows.map(({ id }) => id)
}
