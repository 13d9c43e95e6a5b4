import { subjectKindOf, type EventType } from '../events/eventTypes.ts'
import { NO_ENTITY } from '../events/entityFacts.ts'
import type {
  CustomerFacts,
  EntityFacts,
  Facts,
  LineFacts,
  OrderFacts,
  PastEvent,
  PastMessage,
  ShopFacts,
} from '../events/facts.ts'
import type { ExpectedReorder } from '../events/reorder.ts'
import type { Instant } from '../shared/time.ts'
import { advance } from './advance.ts'
import type { Program } from './compile.ts'
import type { Decision, EntryCause } from './decision.ts'
import { freshRun, type RunState } from './runState.ts'
import { considerStart, matchesTrigger } from './start.ts'
import { isPerLine } from './trigger.ts'

/** Something that happens to a customer while they are watched. */
export interface LifeEvent {
  type: EventType
  at: Instant
  /** When it becomes known; not before `at`. */
  arrivesAt: Instant
  subjectId: string | null
  entity: EntityFacts
  /** For changes of status. */
  change: { from: string | null; to: string } | null
}

/** A date whose moment comes while a customer is watched, for workflows that start by one. */
export interface LifeDate {
  /** The moment that belongs to the date. */
  at: Instant
  date: Instant
  subjectId: string | null
  line: number | null
}

/** One customer's life, as far as a workflow may ask about it. */
export interface Life {
  shop: ShopFacts
  customer: CustomerFacts
  /** What happened before the events that are lived through, in order of time. */
  before: readonly PastEvent[]
  /** In the order in which they become known. */
  events: readonly LifeEvent[]
  /** In the order of their moments. */
  dates?: readonly LifeDate[]
  /** When what they bought was expected to be bought again, where the workflow goes by that. */
  reorders?: readonly HeldReorder[]
  /** When it ends; runs that go on then stay where they are. */
  until: Instant
}

/** What was expected of a line of an order, for as long as it was. */
export interface HeldReorder {
  orderId: string
  line: number
  knownAt: Instant
  until: Instant
  expected: ExpectedReorder
}

/** A decision with its run and its time. */
export interface Decided {
  at: Instant
  run: number | null
  decision: Decision
}

/** What a workflow would have done in a life. */
export interface Lived {
  customerId: string
  decided: Decided[]
  /** Where its runs have got to. */
  runs: RunState[]
}

interface Run {
  id: number
  subjectId: string | null
  line: number | null
  /** What started it was about. */
  entity: EntityFacts
  state: RunState
}

const THIS = 'this'

/**
 * Takes one customer through a workflow with everything in memory and a clock that jumps from one
 * moment at which something is due to the next: as if the workflow had been live, alone, and every
 * message had been handed over at once.
 */
export function simulate(program: Program, life: Life): Lived {
  return new Living(program, life).live()
}

class Living {
  readonly decided: Decided[] = []
  readonly runs: Run[] = []
  readonly arrived: LifeEvent[] = []
  /** All that has happened by now; null where it is to be put together anew. */
  past: readonly PastEvent[] | null = null
  messages: readonly PastMessage[] = []
  customer: CustomerFacts
  readonly program: Program
  readonly life: Life

  constructor(program: Program, life: Life) {
    this.program = program
    this.life = life
    this.customer = life.customer
  }

  live(): Lived {
    for (const { at, happen } of this.occasions()) {
      this.runUntil(at)
      happen()
    }
    this.runUntil(this.life.until)
    return {
      customerId: this.life.customer.id,
      decided: this.decided,
      runs: this.runs.map(({ state }) => state),
    }
  }

  /** Events and dates in the order in which they come; an event before a date of its very moment. */
  occasions(): { at: Instant; happen: () => void }[] {
    const { events, dates = [] } = this.life
    return [
      ...events.map((event) => ({ at: event.arrivesAt, happen: () => this.take(event) })),
      ...dates.map((date) => ({ at: date.at, happen: () => this.reach(date) })),
    ].toSorted((a, b) => a.at - b.at)
  }

  /** Does what falls due up to a moment, in order of time and then of entry. */
  runUntil(end: Instant): void {
    for (;;) {
      const [next] = this.runs
        .filter(({ state }) => state.status === 'inProgress' && (state.dueAt ?? Infinity) <= end)
        .toSorted((a, b) => (a.state.dueAt ?? 0) - (b.state.dueAt ?? 0) || a.id - b.id)
      if (!next) return
      this.move(next, next.state.dueAt ?? 0)
    }
  }

  take(event: LifeEvent): void {
    const { type, subjectId, arrivesAt: now } = event
    this.arrived.push(event)
    // A late one is counted at its own time.
    this.arrived.sort((a, b) => a.at - b.at)
    this.past = null
    const waiting = this.runs.filter(({ state }) => state.awaits !== null)
    this.start(event)
    for (const run of waiting) {
      const { awaits, status } = run.state
      const isNews = awaits === type || (awaits === 'subject' && run.subjectId === subjectId)
      if (status === 'inProgress' && isNews) this.move(run, now)
    }
  }

  start(event: LifeEvent): void {
    const { type, at, arrivesAt: now, change } = event
    const cause = { by: 'event' } as const
    if (!matchesTrigger(this.program, { at, type, change, cause })) return
    const subjectId = this.program.subject === 'customer' ? null : event.subjectId
    for (const line of this.linesFor(event, subjectId)) {
      this.consider({ subjectId, line, entity: event.entity }, { at, now, cause })
    }
  }

  /** A date's moment comes: what is known of its thing is what its events have told by then. */
  reach({ at, date, subjectId, line }: LifeDate): void {
    const { trigger } = this.program.definition
    if (trigger.kind !== 'date') return
    const cause = { by: 'date', field: trigger.field, date } as const
    this.consider({ subjectId, line, entity: NO_ENTITY }, { at, now: at, cause })
  }

  consider(
    about: Pick<Run, 'subjectId' | 'line' | 'entity'>,
    { at, now, cause }: { at: Instant; now: Instant; cause: EntryCause },
  ): void {
    const run: Run = { id: this.runs.length + 1, ...about, state: freshRun(this.program, at) }
    const facts = this.factsFor(run, now)
    const entered = this.runs.map(({ state }) => state.enteredAt)
    const decision = considerStart(this.program, { at, cause }, facts, {
      lastEnteredAt: entered.length === 0 ? null : Math.max(...entered),
      inProgress: this.runs.some(({ state }) => state.status === 'inProgress'),
    })
    const isIn = decision.kind === 'entered'
    this.decided.push({ at: now, run: isIn ? run.id : null, decision })
    if (!isIn) return
    this.runs.push(run)
    this.move(run, now, facts)
  }

  linesFor(event: LifeEvent, subjectId: string | null): (number | null)[] {
    if (!isPerLine(this.program.definition.trigger)) return [null]
    const { at, arrivesAt: now, entity } = event
    const asked = (line: number | null): Facts =>
      this.factsFor({ id: -1, subjectId, line, entity }, now)
    const matching = (asked(null).order?.lines ?? []).flatMap((_, line) =>
      this.program.filter?.holds({ facts: asked(line), enteredAt: at }) === false ? [] : [line],
    )
    return matching.length > 0 ? matching : [null]
  }

  move(run: Run, now: Instant, given = this.factsFor(run, now)): void {
    const { decisions, next, facts } = advance(this.program, run.state, given)
    run.state = next
    this.messages = facts.messages.map((one) =>
      one.runId === null ? { ...one, runId: run.id } : one,
    )
    this.customer = facts.customer
    this.decided.push(...decisions.map((decision) => ({ at: now, run: run.id, decision })))
  }

  factsFor(run: Pick<Run, 'id' | 'subjectId' | 'line' | 'entity'>, now: Instant): Facts {
    const entity = this.entityOf(run, now)
    const others = this.runs.filter(({ id }) => id !== run.id)
    return {
      ...entity,
      line: run.line === null ? entity.line : (entity.order?.lines[run.line] ?? null),
      now,
      shop: this.life.shop,
      self: { workflowId: THIS, runId: this.runs.includes(run as Run) ? run.id : null },
      subject: { kind: this.program.subject, id: run.subjectId },
      customer: this.customer,
      history: this.history(),
      messages: this.messages,
      coupons: [],
      entries: others.map(({ state }) => ({
        workflowId: THIS,
        enteredAt: state.enteredAt,
        inProgress: state.status === 'inProgress',
      })),
    }
  }

  history(): readonly PastEvent[] {
    this.past ??= [...this.life.before, ...this.arrived]
    return this.past
  }

  /** What is known of a run's subject: by its newest event, and when an order was placed. */
  entityOf({ subjectId, entity }: Pick<Run, 'subjectId' | 'entity'>, now: Instant): EntityFacts {
    if (subjectId === null) return entity
    const { subject } = this.program
    const own = this.history().filter(
      (one) => one.subjectId === subjectId && subjectKindOf(one.type) === subject,
    )
    const newest = own.findLast((one) => one.entity)?.entity ?? NO_ENTITY
    if (!newest.order) return newest
    const placed = own.find(({ type }) => type === 'order.placed')?.at ?? null
    const lines = this.withReorders(newest.order, now)
    return { ...newest, order: { ...newest.order, placedAt: placed, lines } }
  }

  withReorders({ id, lines }: OrderFacts, now: Instant): readonly LineFacts[] {
    const own = this.life.reorders?.filter(
      ({ orderId, knownAt, until }) => orderId === id && knownAt <= now && now < until,
    )
    if (!own || own.length === 0) return lines
    return lines.map((line, place) => ({
      ...line,
      reorder: own.find((one) => one.line === place)?.expected ?? null,
    }))
  }
}
