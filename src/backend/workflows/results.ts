import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import {
  messageResults,
  notSentReason,
  type CohortResults,
  type MessageResults,
} from '../../contract/results.ts'
import { CUSTOMER_CHANNELS } from '../../core/channels/catalogue.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { arrayOf, rowsOf, type Db } from '../platform/db.ts'
import { COUNTS, countingOrders } from './earned.ts'

interface Asked {
  shopId: string
  workflowId: string
  from: Instant
  to: Instant
  windowDays: number
  now: Instant
}

/**
 * What came of those who entered a workflow in a time, message by message. What they did counts for as long
 * as their window goes, from the moment they entered; those whose window is over stand apart from those
 * for whom more may come. The measures are defined in docs/measures.md.
 */
export async function workflowResults(
  db: Db,
  asked: Asked,
): Promise<{ over: CohortResults; open: CohortResults }> {
  const cohort = cohortOf(asked)
  const entered = await rowsOf(
    db,
    z.object({ isOver: z.boolean(), entered: z.number() }),
    sql`${cohort} select is_over as "isOver", count(*) as entered from cohort group by 1`,
  )
  const reached = await reachedIn(db, asked, cohort)
  const sent = await sentIn(db, asked, cohort)
  const ordered = await orderedIn(db, asked, cohort)
  const of = (isOver: boolean): CohortResults => {
    const mine = <Row extends { isOver: boolean }>(rows: readonly Row[]) =>
      rows.filter((row) => row.isOver === isOver)
    const all = mine(ordered).find(({ step }) => step === null)
    return {
      entered: mine(entered)[0]?.entered ?? 0,
      ordered: all?.ordered ?? 0,
      orders: all?.orders ?? 0,
      revenueMinor: all?.revenueMinor ?? 0,
      messages: joined(mine(reached), mine(sent), mine(ordered)),
    }
  }
  return { over: of(true), open: of(false) }
}

/** Each way through the workflow that began in the time, with the end of its window. */
function cohortOf({ shopId, workflowId, from, to, windowDays, now }: Asked): SQL {
  const windowMs = windowDays * DAY_MS
  return sql`with cohort as materialized (
    select id, customer_id, entered_at, entered_at + ${windowMs}::bigint as until,
      entered_at + ${windowMs}::bigint <= ${now}::bigint as is_over
    from runs where shop_id = ${shopId} and workflow_id = ${workflowId}
      and entered_at >= ${from}::bigint and entered_at < ${to}::bigint
  )`
}

const reachedRow = notSentReason.extend({
  isOver: z.boolean(),
  step: z.string(),
  code: z.string().nullable(),
})
type ReachedRow = z.infer<typeof reachedRow>

/**
 * What was decided of each message, once for each way through: the last decision counts, for what was to be
 * sent may still be held back at the door.
 */
function reachedIn(db: Db, { shopId }: Asked, cohort: SQL): Promise<ReachedRow[]> {
  return rowsOf(
    db,
    reachedRow,
    sql`${cohort}, decided as (
      select distinct on (ledger.run_id, ledger.entry->>'step') cohort.is_over,
        ledger.entry->>'step' as step, ledger.kind, ledger.entry
      from cohort join ledger on ledger.shop_id = ${shopId} and ledger.run_id = cohort.id
      where ledger.kind in ('sends', 'skipped', 'left') and ledger.at <= cohort.until
      order by ledger.run_id, ledger.entry->>'step', ledger.id desc
    )
    select is_over as "isOver", step,
      case kind when 'sends' then null when 'left' then 'left' else entry->'reason'->>'code' end as code,
      case kind when 'left' then entry->>'exclusion' else entry->'reason'->>'exclusion' end as exclusion,
      count(*) as count
    from decided group by 1, 2, 3, 4`,
  )
}

const sentRow = messageResults
  .pick({
    step: true,
    sent: true,
    delivered: true,
    opened: true,
    clicked: true,
    unsubscribed: true,
    complained: true,
  })
  .extend({ isOver: z.boolean() })
type SentRow = z.infer<typeof sentRow>

/** What became of the messages that were handed over. What mail systems report names the message itself. */
function sentIn(db: Db, { shopId }: Asked, cohort: SQL): Promise<SentRow[]> {
  const reported = (type: string) => sql`exists (select 1 from events
    where events.shop_id = ${shopId} and events.customer_id = m.customer_id and events.type = ${type}
      and events.data->'message'->>'id' = m.message_id and events.time <= cohort.until)`
  return rowsOf(
    db,
    sentRow,
    sql`${cohort} select cohort.is_over as "isOver", m.step, count(*) as sent,
      count(*) filter (where not ${reported('message.bounced')}) as delivered,
      count(*) filter (where m.opened_at <= cohort.until) as opened,
      count(*) filter (where m.clicked_at <= cohort.until) as clicked,
      count(*) filter (where ${reported('message.unsubscribed')}) as unsubscribed,
      count(*) filter (where ${reported('message.complained')}) as complained
    from cohort join messages m on m.shop_id = ${shopId} and m.run_id = cohort.id
    where m.status = 'sent' and m.sent_at <= cohort.until
      and m.channel = any(${arrayOf(CUSTOMER_CHANNELS, 'text')})
    group by 1, 2`,
  )
}

const orderedRow = z.object({
  isOver: z.boolean(),
  /** Null for all messages together. */
  step: z.string().nullable(),
  ordered: z.number(),
  orders: z.number(),
  revenueMinor: z.number(),
})
type OrderedRow = z.infer<typeof orderedRow>

/** Orders by the last message before them, as everywhere: see `earned.ts`. */
function orderedIn(db: Db, { shopId }: Asked, cohort: SQL): Promise<OrderedRow[]> {
  return rowsOf(
    db,
    orderedRow,
    sql`${cohort} select cohort.is_over as "isOver", touch.step,
      count(distinct touch.run_id) as ordered, count(*) as orders,
      sum(orders.total_minor)::bigint as "revenueMinor"
    ${countingOrders()}
    join cohort on cohort.id = touch.run_id
    where orders.shop_id = ${shopId} and ${COUNTS} and orders.placed_at <= cohort.until
      and orders.customer_id in (select customer_id from cohort)
    group by grouping sets ((cohort.is_over, touch.step), (cohort.is_over))`,
  )
}

function joined(
  reached: readonly ReachedRow[],
  sent: readonly SentRow[],
  ordered: readonly OrderedRow[],
): MessageResults[] {
  const steps = new Set([...reached, ...sent].map(({ step }) => step))
  return [...steps].map((step) => {
    const decided = reached.filter((row) => row.step === step)
    const { isOver: _sent, ...handedOver } = sent.find((row) => row.step === step) ?? NOT_SENT
    const came = ordered.find((row) => row.step === step)
    return {
      ...handedOver,
      step,
      reached: decided.reduce((sum, { count }) => sum + count, 0),
      ordered: came?.ordered ?? 0,
      orders: came?.orders ?? 0,
      revenueMinor: came?.revenueMinor ?? 0,
      notSent: decided
        .flatMap(({ code, exclusion, count }) => (code === null ? [] : { code, exclusion, count }))
        .toSorted((a, b) => b.count - a.count),
    }
  })
}

const NOT_SENT: Omit<SentRow, 'step'> = {
  isOver: true,
  sent: 0,
  delivered: 0,
  opened: 0,
  clicked: 0,
  unsubscribed: 0,
  complained: 0,
}
