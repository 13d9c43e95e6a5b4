import { sql } from 'drizzle-orm'
import { arrayOf, rowsOf, type Db } from '../../backend/platform/db.ts'
import { makeTurns, type Turn } from '../../backend/platform/turns.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import { conditionFindings } from '../../core/check/flow/conditionFindings.ts'
import { EVENT_TYPES, subjectKindOf, type EventType } from '../../core/events/eventTypes.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { compileProgram, type Program } from '../../core/workflow/compile.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import type { Trigger } from '../../core/workflow/trigger.ts'
import { simulate, type HeldReorder, type Lived } from '../../core/workflow/simulate.ts'
import { loadCustomers } from '../live/facts/customers.ts'
import { grouped } from '../../core/shared/grouped.ts'
import type { HeldDate } from './heldDate.ts'
import { lotOf } from './lot.ts'
import type { Drawn } from './pastDates.ts'
import { pastReorders } from './pastReorders.ts'
import type { PastStart } from './pastStart.ts'
import { pastStarts } from './pastStarts.ts'
import { recordedColumns, RecordedEvent, recordedRow } from './recordedEvent.ts'

const REPLAYED_DAYS = 90
/** More often than that nothing starts for those who are gone through. */
const MOST_STARTS = 100_000
/** What a workflow would have done in the past. */
export interface Replay {
  lives: Lived[]
  since: Instant
  /** These are one in so many people, drawn by lot: of large shops not all are gone through. */
  oneIn: number
}

/**
 * Runs a workflow over the last 90 days of everyone whom its trigger concerns: the same interpreter,
 * every event and date at its own time, nothing sent. What is known of customers themselves (consent,
 * address, tags) is what is known today, and no other workflow is there. Null for those that people
 * are put in by hand, and while a condition is unfinished.
 */
export async function replay(
  db: Db,
  shopId: string,
  definition: Definition,
  turn: Turn = makeTurns(),
): Promise<Replay | null> {
  const { trigger } = definition
  if (trigger.kind === 'hand' || conditionFindings(definition).length > 0) return null
  const program = compileProgram(definition)
  const shop = await findShop(db, shopId)
  const { now } = await readClock(db, shopId)
  const since = now - REPLAYED_DAYS * DAY_MS
  const oneIn = await lotOf(db, shopId)
  const period = { from: since, now, oneIn }
  const { starts } = await pastStarts(db, shop, trigger, period, MOST_STARTS)
  const ids = [...new Set(starts.map(({ customerId }) => customerId))]
  const customers = await loadCustomers(db, shopId, ids)
  const events = await loadEvents(db, shopId, ids, program, { since, now })
  const dates = grouped(starts.flatMap(lifeDate).toReversed(), (one) => one.customerId)
  const reorders = await reordersFor(db, shop, definition, { now, oneIn })
  const lives: Lived[] = []
  for (const id of ids) {
    const customer = customers.get(id)
    if (!customer) continue
    const all = events.get(id) ?? []
    const before = all.filter(({ at }) => at <= since)
    const lived = all.filter(({ at }) => at > since)
    const life = {
      shop,
      customer,
      before,
      events: lived,
      until: now,
      dates: dates.get(id) ?? [],
      reorders: reorders.get(id) ?? [],
    }
    lives.push(simulate(program, life))
    await turn()
  }
  return { lives, since, oneIn }
}

/** What was expected of people's orders, by person; nothing for a workflow that does not ask. */
async function reordersFor(
  db: Db,
  shop: Shop,
  definition: Definition,
  drawn: Drawn,
): Promise<Map<string, HeldReorder[]>> {
  if (!JSON.stringify(definition).includes('"line.reorder')) return new Map()
  const held = await pastReorders(db, shop, drawn)
  const reorders = grouped(held, ({ customerId }) => customerId)
  return new Map([...reorders].map(([id, own]) => [id, own.flatMap(heldReorder)]))
}

function heldReorder({ subjectId, line, knownAt, until, entity }: HeldDate): HeldReorder[] {
  const expected = entity.order?.lines[line ?? -1]?.reorder
  if (!expected || subjectId === null || line === null) return []
  return [{ orderId: subjectId, line, knownAt, until, expected }]
}

const lifeDate = (start: PastStart) => (start.date === null ? [] : [{ ...start, date: start.date }])

/** The events a workflow may see: what starts it, what it asks about, what changes its subject. */
function typesFor({ subject, needs }: Program, trigger: Trigger): EventType[] {
  const own = EVENT_TYPES.filter(
    (type) => subject !== 'customer' && subjectKindOf(type) === subject,
  )
  return [
    ...new Set([
      ...(trigger.kind === 'event' ? [trigger.event] : []),
      ...needs.events.keys(),
      ...own,
    ]),
  ]
}

/**
 * The events of people, in order of time. What was ordered long ago nobody asks about, unless a
 * condition does; a date may have been told of at any time.
 */
async function loadEvents(
  db: Db,
  shopId: string,
  ids: readonly string[],
  program: Program,
  { since, now }: { since: Instant; now: Instant },
): Promise<Map<string, RecordedEvent[]>> {
  const { trigger } = program.definition
  const types = typesFor(program, trigger)
  const inFull = [...program.needs.events].flatMap(([type, entity]) => (entity ? [type] : []))
  const isAsked =
    trigger.kind === 'date'
      ? sql`true`
      : sql`time > ${since} or type = any(${arrayOf(inFull, 'text')})`
  const rows = await rowsOf(
    db,
    recordedRow,
    sql`select ${recordedColumns(isAsked)} from events
    where shop_id = ${shopId} and customer_id = any(${arrayOf(ids, 'text')})
      and type = any(${arrayOf(types, 'text')}) and time <= ${now}`,
  )
  // Here and not in the query: PostgreSQL would sort the texts too.
  rows.sort((a, b) => a.at - b.at || a.seq - b.seq)
  const byCustomer = grouped(rows, ({ customerId }) => customerId)
  return new Map([...byCustomer].map(([id, own]) => [id, own.map((row) => new RecordedEvent(row))]))
}
