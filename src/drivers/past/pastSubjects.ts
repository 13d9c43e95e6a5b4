import type { Db } from '../../backend/platform/db.ts'
import { makeTurns } from '../../backend/platform/turns.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import { compileCondition } from '../../core/conditions/compile.ts'
import type { Asked, CompiledCondition } from '../../core/conditions/compiled.ts'
import { needsOfAll } from '../../core/conditions/needs.ts'
import type { Facts } from '../../core/events/facts.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { isPerLine, type Trigger } from '../../core/workflow/trigger.ts'
import { loadCustomers } from '../live/facts/customers.ts'
import { loadHistory } from '../live/facts/past.ts'
import type { PastStart } from './pastStart.ts'
import { pastStarts } from './pastStarts.ts'
import { startFacts } from './startFacts.ts'

/** Something that would have started a workflow, as conditions are asked about it. */
export interface PastSubject {
  /** With what was known when it happened. */
  atOnce: Asked
  /** With what was known later on: after a while, or by now if that is earlier. */
  later: Asked
}

/** What would have started a workflow in the past. */
export interface PastSubjects {
  subjects: PastSubject[]
  /** Since when; later than was asked for where there were too many events. */
  since: Instant
}

interface PastQuery {
  days: number
  conditions: readonly CompiledCondition[]
  /** Milliseconds from the start to the moment that `later` is of. */
  afterMs?: number
  /** At most so many of what started it, the newest. */
  most?: number | undefined
}

/**
 * The subjects of the last days that the trigger and its filter would have let in, with all that
 * `conditions` ask about. Of customers it knows only what they are now, and of orders and the like
 * what their events told.
 */
export async function pastSubjects(
  db: Db,
  shopId: string,
  trigger: Trigger,
  { days, conditions, afterMs = 0, most }: PastQuery,
): Promise<PastSubjects> {
  const shop = await findShop(db, shopId)
  const { now } = await readClock(db, shopId)
  const period = { from: now - days * DAY_MS, now }
  const { starts, since } = await pastStarts(db, shop, trigger, period, most)
  const filter = trigger.filter ? compileCondition(trigger.filter) : null
  const asked = [...conditions, ...(filter ? [filter] : [])]
  const subjects = await subjectsOf(db, { shop, now, afterMs }, trigger, starts, asked)
  return { subjects: subjects.filter(({ atOnce }) => filter?.holds(atOnce) ?? true), since }
}

async function subjectsOf(
  db: Db,
  { shop, now, afterMs }: { shop: Shop; now: Instant; afterMs: number },
  trigger: Trigger,
  starts: readonly PastStart[],
  conditions: readonly CompiledCondition[],
): Promise<PastSubject[]> {
  const ids = [...new Set(starts.map(({ customerId }) => customerId))]
  const { events: types } = needsOfAll(conditions.map(({ needs }) => needs))
  const until = Math.min(now, (starts[0]?.at ?? 0) + afterMs)
  const customers = await loadCustomers(db, shop.id, ids)
  const history = await loadHistory(db, shop.id, ids, types, until, false)
  const subjects: PastSubject[] = []
  const turn = makeTurns()
  for (const start of starts) {
    await turn()
    const customer = customers.get(start.customerId)
    if (!customer) continue
    const all = history.get(start.customerId) ?? []
    const askedAt = (moment: Instant): Asked[] => {
      const past = all.filter(({ at }) => at <= moment)
      const facts = startFacts(trigger, start, { shop, customer, past, now: moment })
      return eachSubject(trigger, start, facts).map((one) => ({ facts: one, enteredAt: start.at }))
    }
    const atOnce = askedAt(start.at)
    const then = Math.min(now, start.at + afterMs)
    const later = then === start.at ? atOnce : askedAt(then)
    for (const [line, one] of atOnce.entries()) {
      subjects.push({ atOnce: one, later: later[line] ?? one })
    }
  }
  return subjects
}

/** For workflows per line, each line by itself: the one whose date it was, or all of an event. */
function eachSubject(trigger: Trigger, { line }: PastStart, facts: Facts): Facts[] {
  if (!isPerLine(trigger)) return [facts]
  const lines = facts.order?.lines ?? []
  const own = line === null ? lines : lines.slice(line, line + 1)
  return own.map((one) => ({ ...facts, line: one }))
}
