import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { arrayOf, rowsOf, type Db } from '../../../backend/platform/db.ts'
import { WAYS } from '../../../core/events/ownWord.ts'
import type { CustomerFacts } from '../../../core/events/facts.ts'

const text = z.string().nullable()
const customerRow = z.object({
  id: z.string(),
  email: text,
  firstName: text,
  lastName: text,
  phone: text,
  mobile: text,
  zone: text,
  country: text,
  language: text,
  birthday: text,
  emailConsent: z.boolean().nullable(),
  smsConsent: z.boolean().nullable(),
  suppressed: z.enum(['unsubscribed', 'bounced', 'complained']).nullable(),
  createdAt: z.number().nullable(),
  lastOrderAt: z.number().nullable(),
  tags: z.array(z.string()),
  tagChanges: z.record(z.string(), z.boolean()),
  lists: z.array(z.string()),
  properties: z.record(z.string(), z.string()),
  quietUntil: z.number().nullable(),
})

/** Customers by their id. */
export async function loadCustomers(
  db: Db,
  shopId: string,
  ids: readonly string[],
): Promise<Map<string, CustomerFacts>> {
  const rows = await rowsOf(
    db,
    customerRow,
    sql`select id, email, first_name as "firstName", last_name as "lastName", phone, mobile, zone, country,
      language, birthday, may_email as "emailConsent", may_text as "smsConsent",
      case
        when exists (select 1 from dead_addresses d
          where d.shop_id = customers.shop_id and d.address = lower(customers.email)) then 'bounced'
        when email_said = false and email_said_how = ${WAYS.complaint} then 'complained'
        when email_said = false and email_said_how in (${WAYS.link}, ${WAYS.unsubscribed})
          then 'unsubscribed'
      end as suppressed,
      created_at as "createdAt", last_order_at as "lastOrderAt", tags,
      tag_changes as "tagChanges", lists, properties, quiet_until as "quietUntil"
    from customers where shop_id = ${shopId} and id = any(${arrayOf(ids, 'text')})`,
  )
  return new Map(
    rows.map(({ tagChanges, mobile, emailConsent, smsConsent, suppressed, ...row }) => {
      const channels: CustomerFacts['channels'] = {
        email: { address: row.email, consent: emailConsent, suppressed },
        sms: { address: mobile, consent: smsConsent, suppressed: null },
      }
      return [row.id, { ...row, channels, tags: tagsOf(row.tags, tagChanges) }]
    }),
  )
}

/** The shop's tags, with what workflows have added and removed. */
function tagsOf(tags: readonly string[], changes: Readonly<Record<string, boolean>>): string[] {
  const added = Object.keys(changes).filter((tag) => changes[tag])
  return [...new Set([...tags.filter((tag) => changes[tag] !== false), ...added])]
}
