import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import { arrayOf, rowsOf, type Db } from '../../backend/platform/db.ts'
import type { Waiting } from '../../backend/intakes/index.ts'
import type { Shop } from '../../backend/shop/index.ts'
import { zoneOf, type Facts } from '../../core/events/facts.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { dateRange, triggerMoment } from '../../core/workflow/dateTrigger.ts'
import { advance } from '../../core/workflow/advance.ts'
import { foresee } from '../../core/workflow/foresee.ts'
import { freshRun } from '../../core/workflow/runState.ts'
import { considerStart } from '../../core/workflow/start.ts'
import type { DateTrigger, EventTrigger } from '../../core/workflow/trigger.ts'
import { eachLine, entryHistories, entryKey, factRequest, withLine, type Candidate } from './enter.ts' // prettier-ignore
import { loadFacts } from './facts/index.ts'
import type { LiveWorkflow } from './liveWorkflows.ts'
import { candidateFor, dateRow, datesBetween, withoutKnown } from './sweepDates.ts'

/** More than this are not let in at once. */
export const MOST_QUALIFYING = 2000

/** Somebody whose occasion was before the workflow went live, and who would still enter. */
export interface Qualified {
  waiting: Waiting
  /** What is known of them now. */
  facts: Facts
}

/** What somebody gets first if nothing changes. */
export interface GetsFirst {
  /** Null for nothing. */
  first: { step: string; at: Instant } | null
  /** Why the first message is not sent, where one is skipped and none is sent. */
  skipped: string | null
}

export interface Qualifying {
  /** The earliest occasion first. */
  people: Qualified[]
  /** Those whose occasion it was but who would be turned away now, by the reason’s code. */
  turnedAway: Record<string, number>
  /** There were more than can be looked at; the newest were. */
  hasMore: boolean
}

/**
 * Who qualifies for a workflow by what was in the last days, as of now: its filter, entry rule and exclusions hold for
 * them as for all, with what is known today and with all that has been since. Their waits would begin now. Whoever has been in it for the same thing is left out; of several
 * occasions of one thing the last counts. Nothing is changed.
 */
export async function whoQualifies(
  db: Db,
  shop: Shop,
  workflow: LiveWorkflow,
  { days, now }: { days: number; now: Instant },
): Promise<Qualifying> {
  const { trigger } = workflow.program.definition
  const from = now - days * DAY_MS
  if (trigger.kind === 'hand') return { people: [], turnedAway: {}, hasMore: false }
  const occasions =
    trigger.kind === 'event'
      ? await pastEvents(db, shop.id, workflow, trigger, from)
      : await pastDates(db, shop, workflow, { trigger, from, now })
  const looked = occasions.slice(0, MOST_QUALIFYING)
  const source = await loadFacts(db, shop, looked.map(factRequest), now)
  const entries = await entryHistories(db, shop.id, looked)
  const people: Qualified[] = []
  const turnedAway: Record<string, number> = {}
  for (const candidate of looked) {
    if (!source.has(candidate.customerId)) continue
    const facts = source.of(factRequest(candidate))
    for (const one of eachLine(candidate, facts)) {
      const own = withLine(facts, one.line)
      const key = entryKey(workflow.id, one.customerId)
      const earlier = entries.get(key) ?? { lastEnteredAt: null, inProgress: false }
      const decision = considerStart(workflow.program, one, own, earlier)
      if (decision.kind === 'turnedAway') {
        const { code } = decision.reason
        turnedAway[code] = (turnedAway[code] ?? 0) + 1
        continue
      }
      people.push({ waiting: waitingOf(one), facts: own })
      // The next occasion of the same person meets the entry rule, as it will.
      const { next } = advance(workflow.program, freshRun(workflow.program, now), own)
      const inProgress = earlier.inProgress || next.status === 'inProgress'
      entries.set(key, { lastEnteredAt: now, inProgress })
    }
  }
  return {
    people: people.toSorted((a, b) => a.waiting.occasionAt - b.waiting.occasionAt),
    turnedAway,
    hasMore: occasions.length > MOST_QUALIFYING,
  }
}

function waitingOf({ customerId, subjectId, line, idempotencyKey, eventSeq, at, cause }: Candidate): Waiting {
  return { customerId, subjectId, line, idempotencyKey, eventSeq, occasionAt: at, date: cause.by === 'date' ? cause.date : null }
} // prettier-ignore

/** The first message that they would get if they enter at a moment, whatever its channel; or why the first is not sent. */
export function getsFirst({ program }: LiveWorkflow, { facts }: Qualified, at: Instant): GetsFirst {
  let skipped: string | null = null
  for (const { at: when, decision } of foresee(program, freshRun(program, at), {
    ...facts,
    now: at,
  })) {
    if (decision.kind === 'sends')
      return { first: { step: decision.step, at: when }, skipped: null }
    if (decision.kind === 'skipped') skipped ??= decision.reason.code
  }
  return { first: null, skipped }
}

const eventRow = z.object({
  seq: z.number(),
  at: z.number(),
  customerId: z.string(),
  subjectId: z.string().nullable(),
})

/** The last event that starts the workflow of each thing, of those who have not been in it for that; the newest first. */
async function pastEvents(
  db: Db,
  shopId: string,
  workflow: LiveWorkflow,
  trigger: EventTrigger,
  from: Instant,
): Promise<Candidate[]> {
  const { subject } = workflow.program
  const about = subject === 'customer' ? sql`e.customer_id` : sql`e.subject_id`
  const sameThing =
    subject === 'customer' ? sql`r.customer_id = e.customer_id` : sql`r.subject_id = e.subject_id`
  const rows = await rowsOf(
    db,
    eventRow,
    sql`select * from (
      select distinct on (${about}) e.seq, e.time as at, e.customer_id as "customerId", e.subject_id as "subjectId"
      from events e where e.shop_id = ${shopId} and e.type = ${trigger.event} and e.time > ${from}
        -- What nobody has looked at yet comes in by itself.
        and e.considered
        ${isAnyOf(sql`e.data->>'from'`, trigger.from)}
        ${isAnyOf(sql`coalesce(e.data->>'to', e.data->'subscription'->>'status')`, trigger.to)}
        and not exists (select 1 from runs r where r.shop_id = ${shopId}
          and r.workflow_id = ${workflow.id} and r.customer_id = e.customer_id and ${sameThing})
      order by ${about}, e.time desc, e.seq desc
    ) as last order by last.at desc, last.seq desc limit ${MOST_QUALIFYING + 1}`,
  )
  return rows.map(({ seq, at, customerId, subjectId }) => ({
    workflow,
    idempotencyKey: `event:${seq}`,
    at,
    cause: { by: 'hand', person: '', overridden: false, already: true },
    customerId,
    subjectId: subject === 'customer' ? null : subjectId,
    line: null,
    eventSeq: seq,
  }))
}

/** For a change of status, from or to which; any where a trigger asks for none, as `isFromTo` has it. */
function isAnyOf(status: SQL, wanted: readonly string[] | undefined): SQL {
  return wanted && wanted.length > 0 ? sql`and ${status} = any(${arrayOf(wanted, 'text')})` : sql``
}

interface DateLook {
  trigger: DateTrigger
  from: Instant
  now: Instant
}

/** Dates whose moment has been, and that are not over themselves where it lies before them; the newest first. */
async function pastDates(
  db: Db,
  shop: Shop,
  workflow: LiveWorkflow,
  { trigger, from, now }: DateLook,
): Promise<Candidate[]> {
  const near = dateRange(trigger, from, now)
  const rows = await rowsOf(db, dateRow, datesBetween(trigger.field, shop.id, near.from, near.to))
  const all = rows.map((row) => candidateFor(workflow, trigger, row))
  const fresh = await withoutKnown(db, shop.id, all)
  const source = await loadFacts(db, shop, fresh.map(factRequest), now)
  const been = fresh.flatMap((candidate): Candidate[] => {
    if (!source.has(candidate.customerId)) return []
    const date = candidate.at
    const zone = trigger.zone === 'shop' ? shop.zone : zoneOf(source.of(factRequest(candidate)))
    const moment = triggerMoment(trigger, date, zone)
    const isOver = trigger.direction === 'before' && date <= now
    return moment <= from || moment > now || isOver ? [] : [{ ...candidate, at: moment }]
  })
  return been.toSorted((a, b) => b.at - a.at)
}
