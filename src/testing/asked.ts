import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { document, rowsOf, type Database } from '../backend/platform/db.ts'
import type { Condition } from '../core/conditions/condition.ts'
import { MINUTE_MS } from '../core/shared/duration.ts'
import type { Trigger } from '../core/workflow/trigger.ts'
import type { Definition } from '../core/workflow/definition.ts'

/** Something that a screen asks of the server. */
export interface Asked {
  name: string
  /** At most so many milliseconds in 95 of 100 cases. */
  aim: number
  method?: 'GET' | 'POST'
  url: string
  payload?: object
}

const row = z.object({
  now: z.number(),
  workflow: z.string(),
  version: z.number(),
  person: z.string(),
  run: z.number(),
  step: z.string(),
  number: z.string(),
  /** Of the shop’s workflows, by name. */
  definitions: z.array(document<Definition>()),
})
export type Places = z.infer<typeof row>

/** What is asked about: the busiest workflow, its busiest message, somebody with many runs. */
export async function placesIn(db: Database, shopId: string): Promise<Places> {
  const of = sql`where shop_id = ${shopId}`
  const [found] = await rowsOf(db, row, sql`
    with busiest as (select workflow_id, version from runs ${of} group by 1, 2 order by count(*) desc limit 1),
      someone as (select customer_id from runs ${of} and strpos(customer_id, '~') = 0 group by 1 order by count(*) desc, 1 limit 1)
    select (select clock_now from shops where id = ${shopId}) as now, workflow_id as workflow, version,
      (select customer_id from someone) as person,
      (select id from runs ${of} and customer_id = (select customer_id from someone) order by id limit 1) as run,
      (select step from messages m ${of} and m.workflow_id = busiest.workflow_id group by 1 order by count(*) desc limit 1) as step,
      (select number from orders ${of} and strpos(id, '~') = 0 order by as_of desc, number limit 1) as number,
      (select json_agg(draft) from workflows ${of} and strpos(id, '~') = 0) as definitions
    from busiest`) // prettier-ignore
  if (!found) throw new Error('The shop is empty')
  return found
}

const REGULARS: Condition = {
  kind: 'history',
  event: 'order.placed',
  about: 'customer',
  count: { op: 'atLeast', times: 5 },
  window: { kind: 'lastDays', days: 365 },
}
const ORDERS: Trigger = { kind: 'event', event: 'order.placed' }

/** All that screens ask, with how long it may take. */
export function asked(places: Places): readonly Asked[] {
  const { workflow, step, person, run, number, definitions, now } = places
  const w = `/api/workflows/${encodeURIComponent(workflow)}`
  const [byEvent, byDate] = (['event', 'date'] as const).map((kind) => definitions.find(({ trigger }) => trigger.kind === kind))
  const p = `/api/people/${encodeURIComponent(person)}`
  return [
    { name: 'The list of workflows', aim: 150, url: '/api/workflows' },
    { name: 'Names of workflows', aim: 150, url: '/api/workflow-names' },
    { name: 'A workflow', aim: 200, url: w },
    { name: 'Its numbers on the timetable', aim: 200, url: `${w}/numbers` },
    { name: 'Its results, 90 days', aim: 200, url: `${w}/results?days=90` },
    { name: 'The people behind a figure', aim: 200, url: `${w}/results/people?days=90&measure=entered` },
    { name: 'A message’s results', aim: 200, url: `${w}/results/message?days=90&step=${step}` },
    { name: 'Its tests', aim: 200, url: `${w}/experiments` },
    { name: 'Before it goes live', aim: 1000, url: `${w}/before-live` },
    { name: 'Who qualifies already', aim: 1000, url: `${w}/qualifying?days=30&perHour=100` },
    { name: 'Today: sending', aim: 200, url: '/api/overview/sending' },
    { name: 'Today: out of order', aim: 200, url: '/api/overview/health' },
    { name: 'Today: pressure', aim: 200, url: '/api/overview/pressure' },
    { name: 'Today: second orders', aim: 200, url: '/api/overview/cohorts' },
    { name: 'Today: the holdout', aim: 200, url: '/api/overview/holdout' },
    { name: 'Reorders', aim: 200, url: '/api/reorders' },
    { name: 'Coupons', aim: 200, url: '/api/coupons' },
    { name: 'Mailbox', aim: 200, url: '/api/mails' },
    { name: 'Mailbox, searched for an address', aim: 200, url: '/api/mails?search=elin' },
    { name: 'Mailbox, searched for nothing there is', aim: 200, url: '/api/mails?search=qqzzx' },
    { name: 'Ledger', aim: 200, url: '/api/ledger' },
    { name: 'Ledger, searched for an order', aim: 200, url: `/api/ledger?search=${number}` },
    { name: 'Ledger, searched for a name', aim: 200, url: '/api/ledger?search=elin' },
    { name: 'Ledger, searched for nothing there is', aim: 200, url: '/api/ledger?search=qqzzx' },
    { name: 'Ledger of a workflow', aim: 200, url: `/api/ledger?workflow=${encodeURIComponent(workflow)}` },
    { name: 'Ledger, one kind', aim: 200, url: '/api/ledger?show=notSent' },
    { name: 'A run', aim: 200, url: `/api/runs/${run}` },
    { name: 'What comes of a run', aim: 200, url: `/api/runs/${run}/coming` },
    { name: 'A person', aim: 200, url: p },
    { name: 'What happened to a person', aim: 200, url: `${p}/timeline` },
    { name: 'People', aim: 200, method: 'POST', url: '/api/people/search', payload: {} },
    { name: 'People, searched', aim: 200, method: 'POST', url: '/api/people/search', payload: { search: 'elin' } },
    { name: 'People by a condition', aim: 1000, method: 'POST', url: '/api/people/search', payload: { condition: REGULARS } },
    { name: 'Segments', aim: 200, url: '/api/segments' },
    { name: 'Labels', aim: 200, url: '/api/labels?kind=tag' },
    { name: 'Events', aim: 200, url: '/api/events' },
    { name: 'What needs somebody', aim: 200, url: '/api/attention' },
    { name: 'How things stand', aim: 1000, url: '/api/status' },
    { name: 'First steps', aim: 200, url: '/api/first-steps' },
    { name: 'What was changed', aim: 200, url: '/api/audit' },
    { name: 'Calendar', aim: 1000, url: `/api/calendar?from=${now}&days=30` },
    { name: 'Files brought in', aim: 200, url: '/api/imports' },
    { name: 'People to rehearse with', aim: 200, url: '/api/rehearsal/people?search=qqzzx' },
    { name: 'Counter: customers', aim: 200, url: '/api/counter/customers?search=elin' },
    { name: 'Counter: orders', aim: 200, url: '/api/counter/orders' },
    { name: 'Counter: subscriptions', aim: 200, url: '/api/counter/subscriptions' },
    { name: 'Counter: events', aim: 200, url: '/api/counter/events' },
    { name: 'A condition counted', aim: 1000, method: 'POST', url: '/api/conditions/count', payload: { trigger: ORDERS, conditions: [REGULARS], afterMs: MINUTE_MS } },
    { name: 'What is ordered together', aim: 1000, method: 'POST', url: '/api/conditions/combinations', payload: { trigger: ORDERS, branches: [REGULARS] } },
    { name: 'Orders to see a message with', aim: 1000, method: 'POST', url: '/api/messages/samples', payload: { trigger: ORDERS } },
    { name: 'People counted', aim: 1000, method: 'POST', url: '/api/people/count', payload: { condition: REGULARS } },
    { name: 'A draft over 90 days, by an event', aim: 2000, method: 'POST', url: '/api/workflows/replay', payload: { definition: byEvent } },
    { name: 'A draft over 90 days, by a date', aim: 2000, method: 'POST', url: '/api/workflows/replay', payload: { definition: byDate } },
  ]
} // prettier-ignore
