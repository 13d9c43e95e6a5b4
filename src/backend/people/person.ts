import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { personResponse, type ConsentState, type PersonResponse } from '../../contract/people.ts'
import { CUSTOMER_CHANNELS } from '../../core/channels/catalogue.ts'
import { zoneOfPlace } from '../../core/shared/placeZones.ts'
import { stepSentence } from '../../core/words/stepSentences.ts'
import { stepName } from '../../core/words/steps.ts'
import { allSteps } from '../../core/workflow/lists.ts'
import type { Step } from '../../core/workflow/steps.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { arrayOf, document, rowsOf, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import type { Shop } from '../shop/index.ts'
import { labelledSince } from './labelled.ts'
import { personRows } from './list.ts'

const flag = z.boolean().nullable()
const factRow = z.object({
  language: z.string().nullable(),
  birthday: z.string().nullable(),
  zone: z.string().nullable(),
  mobile: z.string().nullable(),
  quietUntil: z.number().nullable(),
  properties: z.record(z.string(), z.string()),
  emailRecorded: flag,
  emailSaid: flag,
  emailSaidAt: z.number().nullable(),
  emailSaidHow: z.string().nullable(),
  smsRecorded: flag,
  smsSaid: flag,
  smsSaidAt: z.number().nullable(),
  smsSaidHow: z.string().nullable(),
  deadSince: z.number().nullable(),
  marketing: z.int(),
  lastMarketingAt: z.number().nullable(),
})
type FactRow = z.infer<typeof factRow>

/** What is known of somebody, but for the segments that hold for them. Throws AppError `not_found`. */
export async function personFacts(
  db: Db,
  shop: Shop,
  id: string,
): Promise<Omit<PersonResponse, 'segments'>> {
  const [row] = await personRows(db, shop, [id])
  const [facts] = await rowsOf(
    db,
    factRow,
    sql`select c.language, c.birthday, c.zone, c.mobile, c.quiet_until as "quietUntil", c.properties,
      c.email_recorded as "emailRecorded", c.email_said as "emailSaid", c.email_said_at as "emailSaidAt",
      c.email_said_how as "emailSaidHow", c.sms_recorded as "smsRecorded", c.sms_said as "smsSaid",
      c.sms_said_at as "smsSaidAt", c.sms_said_how as "smsSaidHow", d.since as "deadSince",
      m.count as marketing, m.last as "lastMarketingAt"
    from customers c
    left join dead_addresses d on d.shop_id = c.shop_id and d.address = lower(c.email)
    left join lateral (select count(*)::int as count, max(sent_at) as last from messages
      where shop_id = c.shop_id and customer_id = c.id and marketing and status = 'sent'
        and channel = any(${arrayOf(CUSTOMER_CHANNELS, 'text')})) m on true
    where c.shop_id = ${shop.id} and c.id = ${id}`,
  )
  if (!row || !facts) throw new AppError('not_found', 'There is nobody by that id.')
  return {
    ...row,
    language: facts.language,
    birthday: facts.birthday,
    zone: zoneFrom(facts.zone, row.country, shop),
    quietUntil: facts.quietUntil,
    properties: facts.properties,
    consents: consentsOf(row.email, facts),
    marketing: { messages: facts.marketing, lastAt: facts.lastMarketingAt },
    labelled: await labelledSince(db, shop.id, id),
    runs: await runsOf(db, shop, id),
    lastOrders: await ordersOf(db, shop.id, id),
  }
}

/** The zone their local times are reckoned in, and where it comes from; that of an order goes before the country's. */
function zoneFrom(own: string | null, country: string | null, shop: Shop): PersonResponse['zone'] {
  if (own !== null) return { name: own, from: 'person' }
  const placed = country === null ? null : zoneOfPlace(country, null)
  return placed === null ? { name: shop.zone, from: 'shop' } : { name: placed, from: 'country' }
}

function consentsOf(email: string | null, facts: FactRow): ConsentState[] {
  const said = (given: boolean | null, at: number | null, how: string | null) =>
    given === null ? null : { given, at: at ?? 0, how: how ?? '' }
  const { emailRecorded, emailSaid, emailSaidAt, emailSaidHow, smsRecorded, smsSaid, smsSaidAt, smsSaidHow } = facts // prettier-ignore
  return [
    {
      channel: 'email',
      address: email,
      may: emailSaid ?? emailRecorded,
      recorded: emailRecorded,
      said: said(emailSaid, emailSaidAt, emailSaidHow),
      deadSince: facts.deadSince,
    },
    {
      channel: 'sms',
      address: facts.mobile,
      may: smsSaid ?? smsRecorded,
      recorded: smsRecorded,
      said: said(smsSaid, smsSaidAt, smsSaidHow),
      deadSince: null,
    },
  ]
}

const orderRow = personResponse.shape.lastOrders.element

/** More orders of one person than are chosen from. */
const MOST_ORDERS = 30

function ordersOf(
  db: Db,
  shopId: string,
  customerId: string,
): Promise<PersonResponse['lastOrders']> {
  return rowsOf(
    db,
    orderRow,
    sql`select number, status, total_minor as "totalMinor", currency, coalesce(placed_at, as_of) as at
    from orders where shop_id = ${shopId} and customer_id = ${customerId}
    order by at desc, id limit ${MOST_ORDERS}`,
  )
}

const runRow = z.object({
  id: z.number(),
  workflowId: z.string(),
  definition: document<Definition>(),
  enteredAt: z.number(),
  step: z.string().nullable(),
  dueAt: z.number().nullable(),
  about: z.string().nullable(),
})

const WAITS: ReadonlySet<string> = new Set(['wait', 'until', 'waitFor'])

function standsAt(definition: Definition, key: string, step: Step | undefined, shop: Shop): string {
  return step && WAITS.has(step.kind) ? stepSentence(step, shop) : `At “${stepName(definition, key)}”.`
} // prettier-ignore

/** The workflows somebody is in. */
async function runsOf(db: Db, shop: Shop, customerId: string): Promise<PersonResponse['runs']> {
  const rows = await rowsOf(
    db,
    runRow,
    sql`select r.id, r.workflow_id as "workflowId", v.definition, r.entered_at as "enteredAt", r.step,
      r.parked_until as "dueAt", coalesce(o.number, r.subject_id) as about
    from runs r
    join workflow_versions v on v.shop_id = r.shop_id and v.workflow_id = r.workflow_id
      and v.version = r.version
    left join orders o on o.shop_id = r.shop_id and o.id = r.subject_id
    where r.shop_id = ${shop.id} and r.customer_id = ${customerId} and r.status = 'inProgress'
    order by r.parked_until nulls last, r.id`,
  )
  return rows.map(({ workflowId, definition, step, ...row }) => {
    const at = allSteps(definition.steps).find(({ key }) => key === step)
    return {
      ...row,
      workflow: { id: workflowId, name: definition.name },
      step: step === null ? null : standsAt(definition, step, at, shop),
      waits: at !== undefined && WAITS.has(at.kind),
    }
  })
}
