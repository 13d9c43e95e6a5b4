import { sql, type SQL } from 'drizzle-orm'
import { CUSTOMER_CHANNELS } from '../../../core/channels/catalogue.ts'
import { DAY_MS } from '../../../core/shared/duration.ts'
import type { Instant } from '../../../core/shared/time.ts'
import { arrayOf } from '../../platform/db.ts'
import { COUNTS, countingOrders } from '../earned.ts'
import { WAY } from '../way.ts'

/** A path or an arm: the last way of a branching step has no name. */
export interface Way {
  step: string
  branch: string | null
}

/** Whose results are asked for. */
export interface Cohort {
  shopId: string
  workflowId: string
  /** Who entered from this moment on, and before that one. */
  from: Instant
  to: Instant
  windowDays: number
  now: Instant
  version?: number | undefined
  /** Only those who took this path or arm. */
  way?: Way | undefined
  /** Only who entered in these parts of the time; all of it where they are left out. */
  spans?: readonly Span[] | undefined
}

/** A time with its beginning in it and not its end. */
export interface Span {
  from: Instant
  to: Instant
}

/**
 * `cohort`: each way through the workflow that began in the time, with the end of its window. `facts`: one row for
 * each of them and each message it came to, with what became of it. Every figure of the results is a count of
 * these rows, and so is every list of the people behind one. Of one message only, where a step is named.
 */
export function factsOf(asked: Cohort, step?: string): SQL {
  const { shopId } = asked
  return sql`${cohortOf(asked)}, decided as (
      ${decisionsOf(shopId, step)}
    ), handed as (
      ${handedOver(shopId, step)}
    ), ordered as (
      ${ordersOf(shopId, step)}
    ), facts as materialized (
      select cohort.id as run_id, cohort.customer_id, cohort.entered_at, cohort.is_over,
        cohort.span, cohort.version,
        coalesce(decided.step, handed.step, ordered.step) as step,
        decided.step is not null as reached, decided.code, decided.exclusion,
        handed.step is not null as sent, handed.at as sent_at,
        coalesce(handed.delivered, false) as delivered, coalesce(handed.opened, false) as opened,
        coalesce(handed.fetched, false) as fetched, coalesce(handed.clicked, false) as clicked,
        coalesce(handed.replied, false) as replied,
        coalesce(handed.unsubscribed, false) as unsubscribed,
        coalesce(handed.complained, false) as complained,
        coalesce(ordered.orders, 0) as orders, coalesce(ordered.revenue, 0) as revenue
      from decided
      full join handed on handed.run_id = decided.run_id and handed.step = decided.step
      full join ordered on ordered.run_id = coalesce(decided.run_id, handed.run_id)
        and ordered.step = coalesce(decided.step, handed.step)
      join cohort on cohort.id = coalesce(decided.run_id, handed.run_id, ordered.run_id)
    )`
}

/** The rows of `facts` of one message that were sent, for what is asked of nothing else; much less to look up. */
export const sentFactsOf = (asked: Cohort, step: string): SQL => sql`${cohortOf(asked)}, handed as (
    ${handedOver(asked.shopId, step)}
  ), facts as materialized (
    select cohort.id as run_id, cohort.customer_id, cohort.is_over, handed.step, handed.at as sent_at,
      handed.delivered, handed.opened, handed.clicked
    from handed join cohort on cohort.id = handed.run_id
  )`

/** Only `cohort`, for what is asked of everybody who entered. */
export function cohortOf({
  shopId,
  workflowId,
  from,
  to,
  windowDays,
  now,
  version,
  way,
  spans = [{ from, to }],
}: Cohort): SQL {
  const windowMs = windowDays * DAY_MS
  const ofVersion = version === undefined ? sql`` : sql`and version = ${version}`
  const ofWay = way
    ? sql`and exists (select 1 from ledger where ledger.shop_id = ${shopId} and ledger.run_id = runs.id
        and ledger.kind in ('tookBranch', 'tookArm', 'came') and ledger.entry->>'step' = ${way.step}
        and (${WAY}) is not distinct from ${way.branch}::text)`
    : sql``
  const starts = arrayOf(
    spans.map((span) => span.from),
    'bigint',
  )
  const ends = arrayOf(
    spans.map((span) => span.to),
    'bigint',
  )
  return sql`with cohort as materialized (
    select runs.id, runs.customer_id, runs.version, runs.entered_at, span.from as span,
      runs.entered_at + ${windowMs}::bigint as until,
      runs.entered_at + ${windowMs}::bigint <= ${now}::bigint as is_over
    from unnest(${starts}, ${ends}) as span("from", "to")
    join runs on runs.shop_id = ${shopId} and runs.workflow_id = ${workflowId}
      and runs.entered_at >= span.from and runs.entered_at < span.to ${ofVersion} ${ofWay}
  )`
}

/**
 * What was decided of each message, once for each way through: the last decision counts, for what was to be
 * sent may still be held back at the door.
 */
const decisionsOf = (shopId: string, step?: string): SQL => sql`
  select cohort.id as run_id, decision.* from cohort cross join lateral (
    select distinct on (ledger.entry->>'step') ledger.entry->>'step' as step,
      case kind when 'sends' then null when 'left' then 'left' else entry->'reason'->>'code' end as code,
      case kind when 'left' then entry->>'exclusion' else entry->'reason'->>'exclusion' end as exclusion
    from ledger
    where ledger.shop_id = ${shopId} and ledger.run_id = cohort.id and ledger.at <= cohort.until
      and ledger.kind in ('sends', 'skipped', 'left')
      ${step === undefined ? sql`` : sql`and ledger.entry->>'step' = ${step}`}
    order by ledger.entry->>'step', ledger.id desc
  ) decision`

/** Within so short a time after it was handed over nobody has read a mail: a program has fetched it. */
const BEFORE_ANYBODY_READS_MS = 10_000

/**
 * What became of the messages that were handed over. What mail systems report names the message itself. A click
 * of the first seconds with another link followed at the same time is no person's: programs look at every link.
 */
function handedOver(shopId: string, step?: string): SQL {
  const atOnce = sql`m.sent_at + ${BEFORE_ANYBODY_READS_MS}::bigint`
  return sql`
    select m.run_id, m.step, m.sent_at as at, not coalesce(told.bounced, false) as delivered,
      coalesce(m.opened_at <= cohort.until, false) as opened,
      coalesce(m.opened_at <= ${atOnce}, false) and not coalesce(told.read_later, false) as fetched,
      coalesce(m.clicked_at <= cohort.until, false) and (m.clicked_at > ${atOnce}
        or coalesce(told.links_at_once, 0) <= 1 or coalesce(told.clicked_later, false)) as clicked,
      coalesce(told.replied, false) as replied,
      coalesce(told.unsubscribed, false) as unsubscribed,
      coalesce(told.complained, false) as complained
    from cohort join messages m on m.shop_id = ${shopId} and m.run_id = cohort.id
    left join lateral (
      select bool_or(e.type = 'message.bounced') as bounced,
        bool_or(e.type = 'message.replied') as replied,
        bool_or(e.type = 'message.unsubscribed') as unsubscribed,
        bool_or(e.type = 'message.complained') as complained,
        bool_or(e.type in ('message.opened', 'message.clicked') and e.time > ${atOnce}) as read_later,
        bool_or(e.type = 'message.clicked' and e.time > ${atOnce}) as clicked_later,
        count(distinct e.data->'message'->>'url')
          filter (where e.type = 'message.clicked' and e.time <= ${atOnce}) as links_at_once
      from events e where e.shop_id = ${shopId} and e.data->'message'->>'id' = m.message_id
        and e.type like 'message.%' and e.time <= cohort.until
        -- Not as an equality, which would be looked up by everything that customer ever did.
        and e.customer_id is not distinct from m.customer_id
    ) told on true
    where m.status = 'sent' and m.sent_at <= cohort.until
      and m.channel = any(${arrayOf(CUSTOMER_CHANNELS, 'text')})
      ${step === undefined ? sql`` : sql`and m.step = ${step}`}`
}

/** Orders by the last message before them, as everywhere: see `earned.ts`. */
const ordersOf = (shopId: string, step?: string): SQL => sql`
  select touch.run_id, touch.step, count(*) as orders, sum(orders.total_minor)::bigint as revenue
  ${countingOrders()}
  join cohort on cohort.id = touch.run_id
  where orders.shop_id = ${shopId} and ${COUNTS} and orders.placed_at <= cohort.until
    and orders.customer_id in (select customer_id from cohort)
    ${step === undefined ? sql`` : sql`and touch.step = ${step}`}
  group by 1, 2`
