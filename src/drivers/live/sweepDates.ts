import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Database, type Db, type Transaction } from '../../backend/platform/db.ts'
import { findShop, readClock, type Shop, lockCustomers } from '../../backend/shop/index.ts'
import { findField } from '../../core/conditions/fields.ts'
import { zoneOf } from '../../core/events/facts.ts'
import { startOfToday } from '../../core/shared/localTime.ts'
import { zoneOfPlace } from '../../core/shared/placeZones.ts'
import type { Instant } from '../../core/shared/time.ts'
import { dateRange, isStillDue, nextSweep, triggerMoment } from '../../core/workflow/dateTrigger.ts'
import { compileProgram } from '../../core/workflow/compile.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { considerStart } from '../../core/workflow/start.ts'
import type { DateTrigger } from '../../core/workflow/trigger.ts'
import { enterAll, factRequest, type Candidate } from './enter.ts'
import { loadFacts, type FactSource } from './facts/index.ts'
import { liveWorkflows, type LiveWorkflow } from './liveWorkflows.ts'
import type { Programs } from './programs.ts'

const sweepRow = z.object({
  workflowId: z.string(),
  sweptUntil: z.number(),
})

/**
 * Looks at one workflow whose date trigger can go off now: lets in everybody whose moment has come
 * since it last looked. What was missed while nothing ran is made up for, since it goes on from where
 * it had got to. Returns false when there is none that another worker has not taken.
 */
export async function sweepDates(
  db: Database,
  programs: Programs,
  shopId: string,
): Promise<boolean> {
  const shop = await findShop(db, shopId)
  return db.transaction(async (tx) => {
    const { now } = await readClock(tx, shopId)
    const [sweep] = await rowsOf(
      tx,
      sweepRow,
      sql`select s.workflow_id as "workflowId", s.swept_until as "sweptUntil" from date_sweeps s
      join workflows w on w.shop_id = s.shop_id and w.id = s.workflow_id and w.state = 'live'
      where s.shop_id = ${shopId} and s.next_at <= ${now}
      order by s.next_at limit 1 for update of s skip locked`,
    )
    if (!sweep) return false
    const [workflow] = await liveWorkflows(
      tx,
      programs,
      shopId,
      (_program, id) => id === sweep.workflowId,
    )
    const trigger = workflow?.program.definition.trigger
    if (!workflow || trigger?.kind !== 'date') return false
    await letIn(tx, shop, now, { workflow, trigger, sweptUntil: sweep.sweptUntil })
    const zones = trigger.zone === 'shop' ? [shop.zone] : await zonesOf(tx, shop)
    await tx.execute(sql`
      update date_sweeps set swept_until = ${now}, next_at = ${nextSweep(trigger, now, zones)}
      where shop_id = ${shopId} and workflow_id = ${workflow.id}`)
    return true
  })
}

export const dateRow = z.object({
  customerId: z.string(),
  subjectId: z.string().nullable(),
  line: z.number().nullable(),
  date: z.number(),
})
export type DateRow = z.infer<typeof dateRow>

interface Look {
  workflow: LiveWorkflow
  trigger: DateTrigger
  sweptUntil: Instant
}

async function letIn(tx: Transaction, shop: Shop, now: Instant, look: Look): Promise<void> {
  const { candidates, source } = await dueDates(tx, shop, now, look)
  if (candidates.length > 0) await enterAll(tx, shop, now, candidates, source)
}

/** Everybody whose moment has come since the last look, the earliest first. Locks their customers. */
async function dueDates(
  tx: Transaction,
  shop: Shop,
  now: Instant,
  { workflow, trigger, sweptUntil }: Look,
): Promise<{ candidates: Candidate[]; source: FactSource }> {
  const { from, to } = dateRange(trigger, sweptUntil, now)
  const rows = await rowsOf(tx, dateRow, datesBetween(trigger.field, shop.id, from, to))
  const near = rows.map((row) => ({ row, candidate: candidateFor(workflow, trigger, row) }))
  await lockCustomers(
    tx,
    shop.id,
    rows.map(({ customerId }) => customerId),
  )
  const requests = near.map(({ candidate }) => factRequest(candidate))
  const source = await loadFacts(tx, shop, requests, now)
  const due = near.flatMap(({ row, candidate }) => {
    // Of somebody who was erased what was bought is still there, but nobody to write to.
    if (!source.has(candidate.customerId)) return []
    const zone = trigger.zone === 'shop' ? shop.zone : zoneOf(source.of(factRequest(candidate)))
    const moment = triggerMoment(trigger, row.date, zone)
    const isNew = moment > sweptUntil && moment <= now
    if (!isNew || !isStillDue(trigger, { date: row.date, moment, now, zone })) return []
    return [{ ...candidate, at: moment }]
  })
  const fresh = await withoutKnown(tx, shop.id, due)
  return { candidates: fresh.toSorted((a, b) => a.at - b.at), source }
}

/**
 * Whose moment has come already today, so that going live now passes over them: how many would have
 * entered, and the moment of the first of them.
 */
export async function passedOverToday(
  db: Database,
  shopId: string,
  workflowId: string,
  definition: Definition,
): Promise<{ people: number; firstAt: Instant | null }> {
  const { trigger } = definition
  if (trigger.kind !== 'date') return { people: 0, firstAt: null }
  const shop = await findShop(db, shopId)
  return db.transaction(async (tx) => {
    const { now } = await readClock(tx, shopId)
    const program = compileProgram(definition)
    const workflow = { id: workflowId, version: 0, program }
    const sweptUntil = startOfToday(now, shop.zone)
    const { candidates, source } = await dueDates(tx, shop, now, { workflow, trigger, sweptUntil })
    const nobody = { lastEnteredAt: null, inProgress: false }
    const entering = candidates.filter(
      (one) => considerStart(program, one, source.of(factRequest(one)), nobody).kind === 'entered',
    )
    return { people: entering.length, firstAt: entering[0]?.at ?? null }
  })
}

/** Somebody who may enter because of a date. */
export function candidateFor(
  workflow: LiveWorkflow,
  { field }: DateTrigger,
  row: DateRow,
): Candidate {
  const { customerId, subjectId, line, date } = row
  const about = [subjectId ?? customerId, ...(line === null ? [] : [line])].join(':')
  return {
    workflow,
    // One run for each value of the date: one that is moved counts anew.
    idempotencyKey: `date:${field}:${about}:${date}`,
    at: date,
    cause: { by: 'date', field, date },
    customerId,
    subjectId,
    line,
    eventSeq: null,
  }
}

/** Leaves out those for whose idempotency key the workflow has made a run: a date may be moved away and back. */
export async function withoutKnown(
  tx: Db,
  shopId: string,
  candidates: readonly Candidate[],
): Promise<Candidate[]> {
  const rows = await rowsOf(
    tx,
    z.object({
      idempotencyKey: z.string(),
    }),
    sql`select idempotency_key as "idempotencyKey" from runs where shop_id = ${shopId}
      and workflow_id = ${candidates[0]?.workflow.id ?? ''}
      and idempotency_key = any(${sql.param(candidates.map(({ idempotencyKey }) => idempotencyKey))}::text[])`,
  )
  const known = new Set(rows.map(({ idempotencyKey }) => idempotencyKey))
  return candidates.filter(({ idempotencyKey }) => !known.has(idempotencyKey))
}

/** Where the dates that triggers can go by are kept: their table, column and the thing's id. */
const DATE_COLUMNS: Readonly<Record<string, { table: string; column: string }>> = {
  'order.placedAt': { table: 'orders', column: 'placed_at' },
  'checkout.startedAt': { table: 'carts', column: 'started_at' },
  'basket.startedAt': { table: 'carts', column: 'started_at' },
  'subscription.startedAt': { table: 'subscriptions', column: 'started_at' },
  'subscription.nextPaymentAt': { table: 'subscriptions', column: 'next_payment_at' },
  'subscription.endsAt': { table: 'subscriptions', column: 'ends_at' },
  'subscription.trialEndsAt': { table: 'subscriptions', column: 'trial_ends_at' },
  'customer.createdAt': { table: 'customers', column: 'created_at' },
  'customer.lastOrderAt': { table: 'customers', column: 'last_order_at' },
}

/** What has a date between two moments, with whose it is. Throws RangeError for a field that is no date. */
export function datesBetween(fieldKey: string, shopId: string, from: Instant, to: Instant): SQL {
  if (fieldKey === 'line.startsAt') {
    return sql`select o.customer_id as "customerId", o.id as "subjectId", l.position as line,
      l.starts_at as date
      from order_lines l join orders o on o.shop_id = l.shop_id and o.id = l.order_id
      where l.shop_id = ${shopId} and l.starts_at between ${from} and ${to}`
  }
  if (fieldKey === 'line.reorderAt') {
    return sql`select customer_id as "customerId", order_id as "subjectId", line, expected_at as date
      from expected_reorders where shop_id = ${shopId} and expected_at between ${from} and ${to}`
  }
  if (fieldKey === 'order.firstDate') {
    return sql`select o.customer_id as "customerId", o.id as "subjectId", null::int as line,
      min(l.starts_at) as date
      from order_lines l join orders o on o.shop_id = l.shop_id and o.id = l.order_id
      where l.shop_id = ${shopId} and l.order_id in (select order_id from order_lines
        where shop_id = ${shopId} and starts_at between ${from} and ${to})
      group by o.customer_id, o.id having min(l.starts_at) between ${from} and ${to}`
  }
  const place = DATE_COLUMNS[fieldKey]
  if (!place) throw new RangeError(`Nothing is known of where ${fieldKey} is kept`)
  const about = findField(fieldKey)?.about
  const column = sql.raw(place.column)
  const ids =
    about === 'customer'
      ? sql`id as "customerId", null::text as "subjectId"`
      : sql`customer_id as "customerId", id as "subjectId"`
  const kind = place.table === 'carts' ? sql` and kind = ${about}` : sql``
  return sql`select ${ids}, null::int as line, ${column} as date from ${sql.raw(place.table)}
    where shop_id = ${shopId} and ${column} between ${from} and ${to}${kind}`
}

/** Every zone that somebody may be in; more than are met does no harm. */
async function zonesOf(db: Db, shop: Shop): Promise<string[]> {
  const rows = await rowsOf(
    db,
    z.object({
      zone: z.string().nullable(),
      country: z.string().nullable(),
      region: z.string().nullable(),
    }),
    sql`select distinct zone, country, null::text as region from customers where shop_id = ${shop.id}
    union select null, shipping_country, shipping_region from orders where shop_id = ${shop.id}`,
  )
  const zones = rows.flatMap(({ zone, country, region }) => [
    zone ?? [],
    country === null ? [] : (zoneOfPlace(country, region) ?? []),
  ])
  return [...new Set([shop.zone, ...zones.flat()])]
}
