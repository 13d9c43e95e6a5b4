import { sql } from 'drizzle-orm'
import { customerIdOf } from '../../../core/events/cloudEvent.ts'
import type { CustomerData } from '../../../core/events/entities.ts'
import type { Instant } from '../../../core/shared/time.ts'
import { recordsOf, type Db } from '../../platform/db.ts'
import { readPhone } from '../phone.ts'
import { takeNewer } from './newer.ts'
import type { TimedEvent } from './timedEvent.ts'

interface CustomerState {
  /** The newest snapshot and its time; 0 for someone who is only named. */
  data: Partial<CustomerData>
  asOf: Instant
  createdAt: Instant | null
  lastOrderAt: Instant | null
}

const CUSTOMER_COLUMNS = [
  'email', 'first_name', 'last_name', 'phone', 'zone', 'country', 'language', 'email_consent',
  'sms_consent', 'mobile',
] // prettier-ignore

/** Someone who is only named by an order or a review exists too; nothing is known of them yet. */
export async function projectCustomers(
  db: Db,
  shopId: string,
  events: TimedEvent[],
): Promise<void> {
  const states = new Map<string, CustomerState>()
  for (const { event, at } of events) {
    const id = customerIdOf(event.data)
    const known = states.get(id) ?? { data: { id }, asOf: 0, createdAt: null, lastOrderAt: null }
    const snapshot = event.data.customer
    states.set(id, {
      ...(snapshot ? { data: snapshot, asOf: at } : { data: known.data, asOf: known.asOf }),
      createdAt: event.type === 'customer.created' ? (known.createdAt ?? at) : known.createdAt,
      lastOrderAt: event.type === 'order.placed' ? at : known.lastOrderAt,
    })
  }
  const records = [...states.values()].map(({ data, ...state }) => ({
    ...data,
    ...phoneOf(data),
    ...state,
  }))
  await db.execute(sql`
    insert into customers as known (shop_id, id, email, first_name, last_name, phone, zone, country,
      language, email_consent, sms_consent, mobile, tags, created_at, last_order_at, as_of)
    select ${shopId}, c.id, c.email, nullif(c."firstName", ''), nullif(c."lastName", ''), c.phone,
      c.zone, c.country, c.language, c."emailConsent", c."smsConsent", c.mobile, coalesce(c.tags, '[]'::jsonb),
      c."createdAt", c."lastOrderAt", c."asOf"
    from jsonb_to_recordset(${recordsOf(records)}) as c(id text, email text,
      "firstName" text, "lastName" text, phone text, zone text, country text, language text,
      "emailConsent" boolean, "smsConsent" boolean, mobile text, tags jsonb, "createdAt" bigint,
      "lastOrderAt" bigint, "asOf" bigint)
    order by c.id
    on conflict (shop_id, id) do update set
      ${takeNewer(CUSTOMER_COLUMNS)},
      tags = case when excluded.tags = '[]'::jsonb or known.as_of > excluded.as_of then known.tags
        else excluded.tags end,
      created_at = least(known.created_at, excluded.created_at),
      last_order_at = greatest(known.last_order_at, excluded.last_order_at)`)
}

/** The number as it is dialled from anywhere, or else as it came; and where text messages go. */
function phoneOf({ phone, country }: Partial<CustomerData>) {
  const read = phone ? readPhone(phone, country ?? null) : null
  return { phone: read?.number ?? phone, mobile: read?.takesTexts ? read.number : null }
}

/** A yes or no to marketing. A new yes by email lifts an earlier unsubscription, nothing harder. */
export async function projectConsent(db: Db, shopId: string, events: TimedEvent[]): Promise<void> {
  const newest = new Map<string, object>()
  for (const { event, at } of events) {
    if (!('consent' in event.data)) continue
    const { customerId, channel, given } = event.data.consent
    newest.set(`${channel} ${customerId}`, { customerId, channel, given, at })
  }
  if (newest.size === 0) return
  for (const channel of ['email', 'sms'] as const) {
    const column = sql.raw(channel === 'email' ? 'email_consent' : 'sms_consent')
    const lifted =
      channel === 'email'
        ? sql`, suppressed = case when c.given and known.suppressed = 'unsubscribed' then null else known.suppressed end`
        : sql``
    await db.execute(sql`
      update customers as known set ${column} = c.given, as_of = greatest(known.as_of, c.at) ${lifted}
      from jsonb_to_recordset(${recordsOf([...newest.values()])}) as c("customerId" text,
        channel text, given boolean, at bigint)
      where known.shop_id = ${shopId} and known.id = c."customerId" and c.channel = ${channel}
        and known.as_of <= c.at`)
  }
}
