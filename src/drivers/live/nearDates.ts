import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { arrayOf, document, rowsOf, type Transaction } from '../../backend/platform/db.ts'
import { lockCustomers, type Shop } from '../../backend/shop/index.ts'
import type { EventData } from '../../core/events/cloudEvent.ts'
import { entityFacts } from '../../core/events/entityFacts.ts'
import { EVENT_TYPES, subjectKindOf, type EventType } from '../../core/events/eventTypes.ts'
import { zoneOf } from '../../core/events/facts.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import {
  datesOf,
  newDates,
  startsAtOnce,
  triggerMoment,
  type OwnDate,
} from '../../core/workflow/dateTrigger.ts'
import { TOO_OLD_DAYS } from '../../core/workflow/start.ts'
import { subjectOf, type DateTrigger } from '../../core/workflow/trigger.ts'
import { enterAll, factRequest, type Candidate } from './enter.ts'
import { loadFacts, type FactSource } from './facts/index.ts'
import { grouped } from '../../core/shared/grouped.ts'
import type { LiveWorkflow } from './liveWorkflows.ts'
import { candidateFor, withoutKnown } from './sweepDates.ts'

interface Recorded {
  seq: number
  type: EventType
  at: Instant
  customerId: string
  subjectId: string | null
}

const recordedInFull = z.object({
  seq: z.number(),
  type: z.enum(EVENT_TYPES),
  at: z.number(),
  customerId: z.string(),
  subjectId: z.string(),
  data: document<EventData>(),
})
type RecordedInFull = z.infer<typeof recordedInFull>

/** A thing whose events have just come in: the newest of them all, and the newest of those before. */
interface News {
  candidate: Candidate
  last: RecordedInFull
  before: RecordedInFull | undefined
}

/**
 * Lets in whom events have just told a date of that is nearer than a workflow's lead, where it says
 * that they start at once. Events that came too late to start anything do not.
 */
export async function letInAtOnce(
  tx: Transaction,
  shop: Shop,
  now: Instant,
  arrivals: readonly Recorded[],
  workflows: readonly LiveWorkflow[],
): Promise<void> {
  const timely = arrivals.filter(({ at }) => now - at <= TOO_OLD_DAYS * DAY_MS)
  for (const workflow of workflows) {
    const { trigger } = workflow.program.definition
    if (trigger.kind !== 'date' || trigger.ifNearer === undefined) continue
    const recorded = timely.filter(({ type }) => subjectKindOf(type) === subjectOf(trigger))
    if (recorded.length > 0) await letIn(tx, shop, now, { workflow, trigger, recorded })
  }
}

async function letIn(
  tx: Transaction,
  shop: Shop,
  now: Instant,
  {
    workflow,
    trigger,
    recorded,
  }: { workflow: LiveWorkflow; trigger: DateTrigger; recorded: Recorded[] },
): Promise<void> {
  const news = (await newsOf(tx, shop.id, recorded)).map(({ last, before }): News => ({
    candidate: candidateFor(workflow, trigger, { ...last, line: null, date: last.at }),
    last,
    before,
  }))
  await lockCustomers(
    tx,
    shop.id,
    news.map(({ candidate }) => candidate.customerId),
  )
  const requests = news.map(({ candidate }) => factRequest(candidate))
  const source = await loadFacts(tx, shop, requests, now)
  const near = news.flatMap((one) =>
    nearDates(trigger, one, source, { shop, now }).map((date) => ({
      ...candidateFor(workflow, trigger, { ...one.last, ...date }),
      at: one.last.at,
    })),
  )
  if (near.length === 0) return
  const fresh = await withoutKnown(tx, shop.id, near)
  if (fresh.length === 0) return
  const inFull = await loadFacts(tx, shop, fresh.map(factRequest), now)
  await enterAll(tx, shop, now, fresh, inFull)
}

/** The dates that a thing did not have before and that are nearer than the lead. */
function nearDates(
  trigger: DateTrigger,
  { candidate, last, before }: News,
  source: FactSource,
  { shop, now }: { shop: Shop; now: Instant },
): OwnDate[] {
  if (!source.has(candidate.customerId)) return []
  const facts = source.of(factRequest(candidate))
  const datesIn = ({ type, data, at }: RecordedInFull): OwnDate[] =>
    datesOf(trigger.field, { ...facts, ...entityFacts(type, data, at) })
  const freshDates = (): OwnDate[] => {
    // No event tells when something will be bought again: it is reckoned with the first of its order.
    if (trigger.field === 'line.reorderAt') return before ? [] : datesOf(trigger.field, facts)
    return newDates(datesIn(last), before ? datesIn(before) : [])
  }
  const zone = trigger.zone === 'shop' ? shop.zone : zoneOf(facts)
  return freshDates().filter(({ date }) => {
    const moment = triggerMoment(trigger, date, zone)
    return startsAtOnce(trigger, { date, moment, now, zone })
  })
}

/** What the newest event of each thing tells, and what was told before these events. */
async function newsOf(
  tx: Transaction,
  shopId: string,
  recorded: readonly Recorded[],
): Promise<Omit<News, 'candidate'>[]> {
  const ids = [...new Set(recorded.flatMap(({ subjectId }) => subjectId ?? []))]
  const types = [...new Set(recorded.map(({ type }) => subjectKindOf(type)))]
  const rows = await rowsOf(
    tx,
    recordedInFull,
    sql`select seq, type, time as at, customer_id as "customerId", subject_id as "subjectId", data
    from events where shop_id = ${shopId} and subject_id = any(${arrayOf(ids, 'text')}) and considered
    order by time, seq`,
  )
  const arrived = new Set(recorded.map(({ seq }) => seq))
  const same = rows.filter(({ type }) => types.includes(subjectKindOf(type)))
  return [...grouped(same, ({ subjectId }) => subjectId).values()].flatMap((own) => {
    const last = own.at(-1)
    if (!last || !arrived.has(last.seq)) return []
    return [{ last, before: own.findLast(({ seq }) => !arrived.has(seq)) }]
  })
}
