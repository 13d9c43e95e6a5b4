import { entityFacts, NO_ENTITY } from '../events/entityFacts.ts'
import { customerIdOf, statusChangeOf, subjectIdOf } from '../events/cloudEvent.ts'
import { subjectKindOf } from '../events/eventTypes.ts'
import {
  zoneOf,
  type CustomerFacts,
  type EntityFacts,
  type Facts,
  type PastEvent,
  type PastMessage,
  type ShopFacts,
} from '../events/facts.ts'
import type { Instant } from '../shared/time.ts'
import { advance } from '../workflow/advance.ts'
import { datesOf, newDates, startsAtOnce, triggerMoment, type OwnDate } from '../workflow/dateTrigger.ts' // prettier-ignore
import type { Decision, EntryCause } from '../workflow/decision.ts'
import { outcomeOf } from '../workflow/outcome.ts'
import { freshRun } from '../workflow/runState.ts'
import { considerStart, matchesTrigger } from '../workflow/start.ts'
import { isPerLine, type DateTrigger } from '../workflow/trigger.ts'
import { NO_INTERVALS, type ReorderIntervals } from '../reorder/interval.ts'
import { Agenda } from './agenda.ts'
import { knownAfter } from './known.ts'
import { OwnReorders } from './ownReorders.ts'
import type { LivedEntry, LivedRun, LivedWorkflow, ToldEvent } from './lived.ts'

/** What a run does beyond the ledger, and what comes of it. */
export interface Effects<Told extends ToldEvent = ToldEvent> {
  /** Something leaves. What people do of it comes to the life by `happens`. */
  leaves: (run: LivedRun, step: string, facts: Facts, life: OneLife<Told>) => void
  /** A code is issued; returns it. */
  issues: (run: LivedRun, decision: Extract<Decision, { kind: 'issues' }>, at: Instant) => string
}

interface Subject {
  run: Pick<LivedRun, 'subjectId' | 'line'>
  workflow: LivedWorkflow
  entity: EntityFacts
}

interface Thing {
  entity: EntityFacts
  /** When it was first told of. */
  since: Instant
}

/**
 * One customer with all workflows of the shop at once, in memory: the shop's events come in at their
 * times, runs go on when they are due, and what leaves may make more happen. Nothing but the core
 * decides what a workflow does.
 */
export class OneLife<Told extends ToldEvent = ToldEvent> {
  readonly events: Told[] = []
  readonly runs: LivedRun[] = []
  readonly entries: LivedEntry[] = []
  customer: CustomerFacts | null = null
  messages: PastMessage[] = []
  now: Instant = 0
  readonly #agenda = new Agenda()
  readonly #past: PastEvent[] = []
  readonly #things = new Map<string, Thing>()
  readonly #entities = new Map<LivedRun, EntityFacts>()
  readonly #dates = new Map<string, OwnDate[]>()
  readonly #codes = new Map<LivedRun, { step: string; code: string; expiresAt: Instant | null }[]>()
  readonly #shop: ShopFacts
  readonly #workflows: readonly LivedWorkflow[]
  readonly #effects: Effects<Told>
  readonly #reorders: OwnReorders

  constructor(
    shop: ShopFacts,
    workflows: readonly LivedWorkflow[],
    effects: Effects<Told>,
    reorders: ReorderIntervals = NO_INTERVALS,
  ) {
    this.#shop = shop
    this.#workflows = workflows
    this.#effects = effects
    this.#reorders = new OwnReorders(reorders)
  }

  /** Lives through events: those up to `from` are only known, the others start workflows. */
  live(events: readonly Told[], from: Instant, until: Instant): void {
    for (const event of events) {
      if (event.at <= from) this.#know(event, from)
      else this.happens(event)
    }
    this.#agenda.runUntil(until)
  }

  /** Something will happen to them; `also` is done at that moment, just before. */
  happens(event: Told, also: () => void = () => undefined): void {
    this.#agenda.add(event.at, () => {
      also()
      this.#take(event)
    })
  }

  /** Somebody puts them into a workflow by hand, at a moment to come. */
  putIn(workflow: LivedWorkflow, subjectId: string | null, at: Instant): void {
    this.#agenda.add(at, () => {
      this.now = at
      const cause = { by: 'hand', person: '', overridden: false } as const
      const run = { subjectId, line: null }
      this.#consider({ run, workflow, entity: NO_ENTITY }, cause, { event: null, dateKey: null })
    })
  }

  /** The message that a run has got at a step, as conditions ask about it. */
  messageOf(run: LivedRun, step: string): PastMessage | undefined {
    const place = this.#placeOf(run)
    return this.messages.findLast((one) => one.runId === place && one.step === step)
  }

  #take(event: Told): void {
    this.now = event.at
    this.events.push(event)
    this.#know(event, event.at)
    const { type, data } = event.event
    const subjectId = subjectIdOf(data)
    const waiting = this.runs.filter(({ state }) => state.awaits !== null)
    this.#start(event)
    for (const run of waiting) {
      const { awaits, status } = run.state
      const isNews = awaits === type || (awaits === 'subject' && run.subjectId === subjectId)
      if (status === 'inProgress' && isNews) this.#move(run)
    }
  }

  /** Takes note of an event: of its customer, its thing, and the dates that may start something later. */
  #know(event: ToldEvent, from: Instant): void {
    const { at, event: told } = event
    const subjectId = subjectIdOf(told.data)
    this.customer = knownAfter(this.customer, event)
    const entity = entityFacts(told.type, told.data, at)
    this.#past.push({ type: told.type, at, subjectId, entity })
    if (subjectId !== null) {
      const kind = subjectKindOf(told.type)
      const known = this.#things.get(`${kind} ${subjectId}`)
      const since = known?.since ?? at
      this.#things.set(`${kind} ${subjectId}`, { entity, since })
      if (entity.order) {
        this.#reorders.take({ ...entity.order, placedAt: since }, this.#shop.zone)
      }
    }
    for (const workflow of this.#workflows) {
      const { trigger } = workflow.program.definition
      if (trigger.kind === 'date') this.#watchDates(workflow, trigger, event, from)
    }
  }

  #watchDates(
    workflow: LivedWorkflow,
    trigger: DateTrigger,
    event: ToldEvent,
    from: Instant,
  ): void {
    const { subject } = workflow.program
    const isAbout = subject === 'customer' || subjectKindOf(event.event.type) === subject
    if (!isAbout || this.customer === null) return
    const subjectId = subject === 'customer' ? null : subjectIdOf(event.event.data)
    const run = { subjectId, line: null }
    const facts = this.#factsFor({ run, workflow, entity: NO_ENTITY }, event.at, null)
    const key = `${workflow.id} ${subjectId}`
    const dates = datesOf(trigger.field, facts)
    const fresh = newDates(dates, this.#dates.get(key) ?? [])
    this.#dates.set(key, dates)
    const zone = trigger.zone === 'shop' ? this.#shop.zone : zoneOf(facts)
    for (const one of fresh) {
      const moment = triggerMoment(trigger, one.date, zone)
      const atOnce = startsAtOnce(trigger, { date: one.date, moment, now: event.at, zone })
      if (moment <= from && !(atOnce && event.at > from)) continue
      const at = Math.max(moment, event.at)
      this.#agenda.add(at, () => {
        // Moved or gone by now, perhaps by an order of something else: then it is none.
        const still = datesOf(trigger.field, this.#factsFor({ run, workflow, entity: NO_ENTITY }, at, null)) // prettier-ignore
        if (newDates([one], still).length > 0) return
        this.now = at
        this.#reach(workflow, trigger, subjectId, one)
      })
    }
  }

  #reach(
    workflow: LivedWorkflow,
    trigger: DateTrigger,
    subjectId: string | null,
    { date, line }: OwnDate,
  ): void {
    const { field } = trigger
    const about = [subjectId ?? this.customer?.id ?? '', ...(line === null ? [] : [line])].join(':')
    this.#consider(
      { run: { subjectId, line }, workflow, entity: NO_ENTITY },
      { by: 'date', field, date },
      { event: null, dateKey: `date:${field}:${about}:${date}` },
    )
  }

  #start(event: ToldEvent): void {
    const { at, event: told } = event
    const change = statusChangeOf(told.type, told.data)
    const cause = { by: 'event' } as const
    for (const workflow of this.#workflows) {
      const { program } = workflow
      if (!matchesTrigger(program, { at, type: told.type, change, cause })) continue
      const subjectId = program.subject === 'customer' ? null : subjectIdOf(told.data)
      const entity = entityFacts(told.type, told.data, at)
      for (const line of this.#linesFor({ run: { subjectId, line: null }, workflow, entity })) {
        this.#consider({ run: { subjectId, line }, workflow, entity }, cause, {
          event,
          dateKey: null,
        })
      }
    }
  }

  #linesFor(subject: Subject): (number | null)[] {
    const { workflow, run } = subject
    if (!isPerLine(workflow.program.definition.trigger)) return [null]
    const asked = (line: number | null): Facts =>
      this.#factsFor({ ...subject, run: { ...run, line } }, this.now, null)
    const matching = (asked(null).order?.lines ?? []).flatMap((_, line) =>
      workflow.program.filter?.holds({ facts: asked(line), enteredAt: this.now }) === false
        ? []
        : [line],
    )
    return matching.length > 0 ? matching : [null]
  }

  #consider(
    subject: Subject,
    cause: EntryCause,
    started: Pick<LivedRun, 'event' | 'dateKey'>,
  ): void {
    if (this.customer === null) return
    const { workflow, run: about, entity } = subject
    const own = this.runs.filter((one) => one.workflow === workflow)
    const facts = this.#factsFor(subject, this.now, null)
    const decision = considerStart(workflow.program, { at: this.now, cause }, facts, {
      lastEnteredAt: own.at(-1)?.state.enteredAt ?? null,
      inProgress: own.some(({ state }) => state.status === 'inProgress'),
    })
    const run: LivedRun | null =
      decision.kind === 'entered'
        ? {
            workflow,
            customerId: this.customer.id,
            ...about,
            ...started,
            state: freshRun(workflow.program, this.now),
            outcome: null,
          }
        : null
    this.#note(workflow, run, about.subjectId, decision)
    if (run === null) return
    this.runs.push(run)
    this.#entities.set(run, entity)
    this.#move(run)
  }

  #move(run: LivedRun): void {
    const { program } = run.workflow
    const entity = this.#entities.get(run) ?? NO_ENTITY
    const given = this.#factsFor({ run, workflow: run.workflow, entity }, this.now, run)
    const { decisions, next, facts } = advance(program, run.state, given)
    run.state = next
    run.outcome = outcomeOf(next, decisions)
    this.customer = facts.customer
    // What the interpreter adds is known from here on as this very object: people open it later.
    this.messages.push(...facts.messages.slice(given.messages.length))
    for (const decision of decisions) this.#carryOut(run, decision, given)
    if (next.dueAt !== null && next.status === 'inProgress') this.#plan(run, next.dueAt)
  }

  /** Comes back to a run when it is due, unless it has gone on by then. */
  #plan(run: LivedRun, dueAt: Instant): void {
    this.#agenda.add(dueAt, () => {
      if (run.state.status !== 'inProgress' || run.state.dueAt !== dueAt) return
      this.now = dueAt
      this.#move(run)
    })
  }

  #carryOut(run: LivedRun, decision: Decision, facts: Facts): void {
    if (decision.kind !== 'issues') this.#note(run.workflow, run, run.subjectId, decision)
    else {
      const code = this.#effects.issues(run, decision, this.now)
      const { step, expiresAt } = decision
      this.#codes.set(run, [...(this.#codes.get(run) ?? []), { step, code, expiresAt }])
      this.#note(run.workflow, run, run.subjectId, { ...decision, code })
    }
    if (decision.kind === 'sends' || decision.kind === 'calls') {
      this.#effects.leaves(run, decision.step, facts, this)
    }
  }

  #note(
    workflow: LivedWorkflow,
    run: LivedRun | null,
    subjectId: string | null,
    entry: LivedEntry['entry'],
  ): void {
    const customerId = this.customer?.id ?? ''
    this.entries.push({ at: this.now, workflow, run, customerId, subjectId, entry })
  }

  /** Writes down what came of handing something over. */
  notes(run: LivedRun, entry: LivedEntry['entry']): void {
    this.#note(run.workflow, run, run.subjectId, entry)
  }

  #factsFor({ run, workflow, entity }: Subject, now: Instant, self: LivedRun | null): Facts {
    const { customer } = this
    if (customer === null) throw new RangeError('Nobody has told of this customer yet')
    const { subject } = workflow.program
    const about = run.subjectId === null ? entity : this.#thing(subject, run.subjectId)
    return {
      ...about,
      line: run.line === null ? about.line : (about.order?.lines[run.line] ?? null),
      now,
      shop: this.#shop,
      self: { workflowId: workflow.id, runId: self === null ? null : this.#placeOf(self) },
      subject: { kind: subject, id: run.subjectId },
      customer,
      history: this.#past,
      messages: this.messages,
      coupons: (self && this.#codes.get(self)) ?? [],
      entries: this.runs
        .filter((one) => one !== self)
        .map(({ workflow: { id }, state }) => ({
          workflowId: id,
          enteredAt: state.enteredAt,
          inProgress: state.status === 'inProgress',
        })),
    }
  }

  /** Runs have their numbers only once everybody's are known; within a life their place will do. */
  #placeOf(run: LivedRun): number {
    return this.runs.indexOf(run) + 1
  }

  #thing(kind: string, id: string): EntityFacts {
    const thing = this.#things.get(`${kind} ${id}`)
    if (!thing) return NO_ENTITY
    const { entity, since } = thing
    const { order, checkout, basket } = entity
    return {
      ...entity,
      order: order && this.#reorders.known({ ...order, placedAt: since }),
      checkout: checkout && { ...checkout, startedAt: since },
      basket: basket && { ...basket, startedAt: since },
    }
  }
}

/** Whose event it is. */
export const ownerOf = ({ event: { data } }: ToldEvent): string => customerIdOf(data)
