import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { customerIdOf } from '../../../core/events/cloudEvent.ts'
import type { CustomerData } from '../../../core/events/entities.ts'
import type { Instant } from '../../../core/shared/time.ts'
import { readYearDay } from '../../../core/shared/yearDay.ts'
import { arrayOf, recordsOf, rowsOf, type Db } from '../../platform/db.ts'
import { readPhone } from '../phone.ts'
import type { TimedEvent } from './timedEvent.ts'

type Field = Exclude<keyof CustomerData, 'id'>

/** Where each field is kept. */
const COLUMNS: Readonly<Record<Field, string>> = {
  email: 'email',
  firstName: 'first_name',
  lastName: 'last_name',
  phone: 'phone',
  zone: 'zone',
  country: 'country',
  language: 'language',
  birthday: 'birthday',
  emailConsent: 'email_recorded',
  smsConsent: 'sms_recorded',
  tags: 'tags',
}
const FIELDS = Object.keys(COLUMNS) as Field[]

/** What events have told of one customer: each field as the newest that has it says, and when that was. */
interface CustomerState {
  id: string
  data: Partial<CustomerData>
  recordedAt: Partial<Record<Field, Instant>>
  asOf: Instant
  createdAt: Instant | null
  lastOrderAt: Instant | null
}

/**
 * Customers, field by field: what an event leaves out stays as it was, null clears, and of two events the
 * later by time counts. Someone who is only named by an order or a review exists too; nothing is known
 * of them yet. `events` are in order of time.
 */
export async function projectCustomers(
  db: Db,
  shopId: string,
  events: readonly TimedEvent[],
): Promise<void> {
  const states = new Map<string, CustomerState>()
  for (const timed of events) {
    const id = customerIdOf(timed.event.data)
    states.set(id, withEvent(states.get(id) ?? nobody(id), timed))
  }
  const countries = await countriesOf(db, shopId, [...states.values()])
  const records = [...states.values()].map(({ data, ...state }) => ({
    ...data,
    ...(data.birthday && { birthday: readYearDay(data.birthday) }),
    ...phoneOf(data, countries.get(state.id) ?? null),
    ...state,
  }))
  await db.execute(sql`
    insert into customers as known (shop_id, id, email, first_name, last_name, phone, zone, country,
      language, birthday, email_recorded, sms_recorded, mobile, tags, created_at, last_order_at, recorded_at, as_of)
    select ${shopId}, c.id, c.email, nullif(c."firstName", ''), nullif(c."lastName", ''), c.phone,
      c.zone, c.country, c.language, c.birthday, c."emailConsent", c."smsConsent", c.mobile, coalesce(c.tags, '[]'::jsonb),
      c."createdAt", c."lastOrderAt", c."recordedAt", c."asOf"
    from jsonb_to_recordset(${recordsOf(records)}) as c(id text, email text,
      "firstName" text, "lastName" text, phone text, zone text, country text, language text,
      birthday text, "emailConsent" boolean, "smsConsent" boolean, mobile text, tags jsonb, "createdAt" bigint,
      "lastOrderAt" bigint, "recordedAt" jsonb, "asOf" bigint)
    order by c.id
    on conflict (shop_id, id) do update set ${TAKE_NEWER},
      as_of = greatest(known.as_of, excluded.as_of),
      created_at = least(known.created_at, excluded.created_at),
      last_order_at = greatest(known.last_order_at, excluded.last_order_at)`)
}

const nobody = (id: string): CustomerState => ({
  id,
  data: {},
  recordedAt: {},
  asOf: 0,
  createdAt: null,
  lastOrderAt: null,
})

function withEvent(state: CustomerState, { event, at }: TimedEvent): CustomerState {
  const snapshot: Partial<CustomerData> = event.data.customer ?? {}
  const told = FIELDS.filter((field) => snapshot[field] !== undefined)
  return {
    ...state,
    data: { ...state.data, ...Object.fromEntries(told.map((field) => [field, snapshot[field]])) },
    recordedAt: { ...state.recordedAt, ...Object.fromEntries(told.map((field) => [field, at])) },
    asOf: told.length === 0 ? state.asOf : at,
    createdAt: event.type === 'customer.created' ? (state.createdAt ?? at) : state.createdAt,
    lastOrderAt: event.type === 'order.placed' ? at : state.lastOrderAt,
  }
}

/** True where what comes in has told a field, and not before what is known of it. */
const isNewer = (field: Field): string =>
  `coalesce((excluded.recorded_at->>'${field}')::bigint, -1) >= coalesce((known.recorded_at->>'${field}')::bigint, 0)`

const takeField = (field: Field, column: string): string =>
  `${column} = case when ${isNewer(field)} then excluded.${column} else known.${column} end`

const TAKE_NEWER = sql.raw(
  [
    ...FIELDS.map((field) => takeField(field, COLUMNS[field])),
    takeField('phone', 'mobile'),
    `recorded_at = known.recorded_at ${FIELDS.map((field) => `|| case when ${isNewer(field)} then jsonb_build_object('${field}', excluded.recorded_at->'${field}') else '{}'::jsonb end`).join(' ')}`,
  ].join(', '),
)

/** In which country the phones are whose events do not say. */
async function countriesOf(
  db: Db,
  shopId: string,
  states: readonly CustomerState[],
): Promise<Map<string, string | null>> {
  const ids = states.flatMap(({ id, data }) => (data.phone && !data.country ? [id] : []))
  if (ids.length === 0) return new Map()
  const rows = await rowsOf(
    db,
    z.object({
      id: z.string(),
      country: z.string().nullable(),
    }),
    sql`select id, country from customers
      where shop_id = ${shopId} and id = any(${arrayOf(ids, 'text')})`,
  )
  return new Map(rows.map(({ id, country }) => [id, country]))
}

/** The number as it is dialled from anywhere, or else as it came; and where text messages go. */
function phoneOf({ phone, country }: Partial<CustomerData>, knownCountry: string | null) {
  const read = phone ? readPhone(phone, country ?? knownCountry) : null
  return { phone: read?.number ?? phone, mobile: read?.takesTexts ? read.number : null }
}
