import type { Condition, Window } from '../../core/conditions/condition.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import type { MessageStep, Step } from '../../core/workflow/steps.ts'
import { armFor, rollOf } from '../../core/workflow/arms.ts'
import { capsOpenAt } from './naiveCaps.ts'
import { ORDERS, type Happening, type ModelShopRules } from './happenings.ts'
import { isShown, isShownAfter } from './naiveCoupons.ts'
import { enough, lineHolds, totalHolds } from './naiveTests.ts'
import { isHeldOut, later, nextTime, quietEnd, untilMoment, waitEnd } from './naiveTime.ts'
import type { Trace } from './trace.ts'

/**
 * A second interpreter, for tests alone, written from docs/semantics.md and slow on purpose: it walks
 * the document as it stands, with a generator per run, counts by going through everything that ever
 * happened, and reckons local times with luxon by trying day after day. It shares nothing with the
 * core but the types, and the arm that a person is drawn for.
 */
export function naively(
  definition: Definition,
  happenings: readonly Happening[],
  rules: ModelShopRules,
): Trace[] {
  return new Naive(definition, rules).live(happenings)
}

/** What a run waits for before it goes on: a moment, news, or both. */
interface Pause {
  until: Instant
  /** A type of event, or `subject`: any event about its order. */
  news: string | null
}

interface Run {
  order: Happening['order']
  line: number | null
  enteredAt: Instant
  /** What the next wait counts from. */
  since: Instant
  skipNext: boolean
  /** The hour and days the last wait asks for. */
  hours: { at: string; weekdays: readonly number[] | undefined } | null
  /** Coupons that are to be issued with the first message that shows them. */
  owed: string[]
  ended: boolean
  sent: Set<string>
  pause: Pause
  way: Generator<Pause, 'ended' | 'goesOn'>
}

const CONSENT: boolean = true

class Naive {
  readonly traces: Trace[] = []
  readonly past: Happening[] = []
  readonly runs: Run[] = []
  readonly marketingAt: Instant[] = []
  readonly messagesAt: Instant[] = []
  readonly tags = new Set<string>()
  now: Instant = 0

  readonly definition: Definition
  readonly rules: ModelShopRules

  constructor(definition: Definition, rules: ModelShopRules) {
    this.definition = definition
    this.rules = rules
  }

  live(happenings: readonly Happening[]): Trace[] {
    for (const happening of happenings) {
      this.pass(happening.arrivesAt)
      this.now = happening.arrivesAt
      this.past.push(happening)
      this.past.sort((a, b) => a.at - b.at)
      const waiting = [...this.runs]
      if (happening.type === 'order.placed') this.consider(happening)
      for (const run of waiting) {
        const isNews =
          run.pause.news === happening.type ||
          (run.pause.news === 'subject' &&
            happening.type !== 'review.submitted' &&
            run.order === happening.order)
        if (!run.ended && isNews) this.goOn(run)
      }
    }
    this.pass(Infinity)
    return this.traces
  }

  pass(end: Instant): void {
    for (;;) {
      let first: Run | null = null
      for (const run of this.runs) {
        if (!run.ended && run.pause.until <= end && (!first || run.pause.until < first.pause.until))
          first = run
      }
      if (!first) return
      this.now = first.pause.until
      this.goOn(first)
    }
  }

  goOn(run: Run): void {
    const next = run.way.next()
    if (next.done) run.ended = true
    else run.pause = next.value
  }

  say(what: string): void {
    this.traces.push({ at: this.now, what })
  }

  consider({ order, at }: Happening): void {
    const { trigger } = this.definition
    const filter = trigger.kind === 'event' ? trigger.filter : undefined
    let lines: (number | null)[] = [null]
    if (trigger.kind === 'event' && trigger.per === 'line') {
      const found = ORDERS[order].lines.flatMap((_, line) =>
        !filter || this.holds(filter, this.candidate(order, line, at)) ? [line] : [],
      )
      if (found.length > 0) lines = found
    }
    for (const line of lines) this.enter(order, line, at, filter)
  }

  candidate(order: Happening['order'], line: number | null, at: Instant): Run {
    const run = {
      order,
      line,
      enteredAt: at,
      since: at,
      skipNext: false,
      hours: null,
      owed: [],
      ended: false,
      sent: new Set<string>(),
      pause: { until: Infinity, news: null },
    }
    return { ...run, way: this.walk(this.definition.steps, run as unknown as Run) }
  }

  enter(
    order: Happening['order'],
    line: number | null,
    at: Instant,
    filter: Condition | undefined,
  ): void {
    const run = this.candidate(order, line, at)
    const { rule, overlap } = this.definition.entry
    const last = Math.max(...this.runs.map(({ enteredAt }) => enteredAt))
    const refuse = (reason: string) => this.say(`turnedAway ${reason}`)
    if (this.now - at > 7 * DAY_MS) return refuse('tooOld')
    if (filter && !this.holds(filter, run)) return refuse('filter')
    if (overlap === 'one' && this.runs.some(({ ended }) => !ended))
      return refuse('alreadyInProgress')
    if (rule.kind === 'once' && this.runs.length > 0) return refuse('enteredBefore')
    if (rule.kind === 'after' && this.runs.length > 0 && at < later(last, rule.duration)) {
      return refuse('enteredTooRecently')
    }
    const leaves = this.definition.exclusions.filter(({ effect }) => effect === 'leave')
    if (leaves.some(({ when }) => this.holds(when, run))) return refuse('exclusion')
    this.say('entered')
    this.runs.push(run)
    run.way = this.through(run)
    this.goOn(run)
  }

  *through(run: Run): Generator<Pause, 'ended' | 'goesOn'> {
    if ((yield* this.walk(this.definition.steps, run)) === 'goesOn') this.say('ended')
    return 'ended'
  }

  *walk(steps: readonly Step[], run: Run): Generator<Pause, 'ended' | 'goesOn'> {
    for (const step of steps) {
      if ((yield* this.step(step, run)) === 'ended') return 'ended'
    }
    return 'goesOn'
  }

  *step(step: Step, run: Run): Generator<Pause, 'ended' | 'goesOn'> {
    switch (step.kind) {
      case 'wait':
        run.since = yield* this.sleep(waitEnd(step, run.since, this.now))
        run.hours = step.at === undefined ? null : { at: step.at, weekdays: step.weekdays }
        return 'goesOn'
      case 'until':
        return yield* this.untilDate(step, run)
      case 'waitFor':
        return yield* this.waitFor(step, run)
      case 'split': {
        const taken = step.branches.find(({ when }) => this.holds(when, run))
        this.say(`branch ${step.key} ${taken?.key ?? 'else'}`)
        return yield* this.walk(taken ? taken.steps : step.otherwise, run)
      }
      case 'experiment': {
        const arm = armFor(step.arms, rollOf(step.lottery, 'c1'))
        this.say(`arm ${step.key} ${arm.key}`)
        return yield* this.walk(arm.steps, run)
      }
      case 'tag':
        if (step.change === 'add') this.tags.add(step.tag)
        else this.tags.delete(step.tag)
        this.say(`marks ${step.key}`)
        return 'goesOn'
      case 'coupon':
        if (isShownAfter(this.definition.steps, step.key)) run.owed.push(step.key)
        else if (this.left(step.key, run)) return 'ended'
        else if (!this.skippedByExclusion(step.key, run)) this.say(`issues ${step.key}`)
        return 'goesOn'
      case 'end':
        this.say(`ended ${step.key}`)
        return 'ended'
      case 'email':
        return yield* this.message(step, run)
      case 'hook':
      case 'list':
      case 'note':
      case 'property':
      case 'sms':
        throw new RangeError(`The naive interpreter does not know ${step.kind}`)
    }
  }

  *sleep(until: Instant): Generator<Pause, Instant> {
    if (until > this.now) yield { until, news: null }
    return until
  }

  *untilDate(
    step: Extract<Step, { kind: 'until' }>,
    run: Run,
  ): Generator<Pause, 'ended' | 'goesOn'> {
    let waited: Instant | null = null
    for (;;) {
      const moment = untilMoment(step, run.order)
      if (moment !== null && moment > this.now) {
        waited = moment
        yield { until: moment, news: step.until.kind === 'field' ? 'subject' : null }
        continue
      }
      const isNow = moment === this.now || (waited !== null && waited <= this.now)
      run.hours = null
      if (moment !== null && isNow) {
        run.since = moment
        return 'goesOn'
      }
      this.say(`datePast ${step.key} ${step.ifPast}`)
      if (step.ifPast === 'leave') return 'ended'
      if (step.ifPast === 'skipNext') run.skipNext = true
      run.since = this.now
      return 'goesOn'
    }
  }

  *waitFor(
    step: Extract<Step, { kind: 'waitFor' }>,
    run: Run,
  ): Generator<Pause, 'ended' | 'goesOn'> {
    const limit = later(run.since, step.limit)
    for (;;) {
      const found = this.past.find(
        (one) =>
          one.type === step.event &&
          one.at > run.enteredAt &&
          one.at <= limit &&
          (step.about === 'customer' ||
            (one.type !== 'review.submitted' && one.order === run.order)) &&
          (!step.where || this.holdsOfEvent(step.where, one)),
      )
      if (found) {
        this.say(`came ${step.key} yes`)
        run.since = Math.max(run.since, found.at)
        run.hours = null
        return yield* this.walk(step.came, run)
      }
      if (limit <= this.now) {
        this.say(`came ${step.key} no`)
        run.since = limit
        run.hours = null
        return yield* this.walk(step.otherwise, run)
      }
      yield { until: limit, news: step.event }
    }
  }

  *message(step: MessageStep, run: Run): Generator<Pause, 'ended' | 'goesOn'> {
    for (;;) {
      if (this.left(step.key, run)) return 'ended'
      const verdict = this.gate(step, run)
      if (typeof verdict === 'number') {
        yield { until: this.permitted(verdict, run), news: null }
        continue
      }
      if (verdict === 'exclusion' || verdict === 'datePast') {
        this.say(`skipped ${step.key} ${verdict}`)
        if (verdict === 'exclusion') run.since = this.now
        run.skipNext = false
        return 'goesOn'
      }
      if (verdict === 'open' && run.owed.length > 0 && isShown(step)) {
        this.say(`issues ${run.owed.at(-1)}`)
        run.owed = []
      }
      this.say(verdict === 'open' ? `sends ${step.key}` : `skipped ${step.key} ${verdict}`)
      if (verdict === 'open') {
        this.messagesAt.push(this.now)
        if (step.kind === 'email' && step.purpose === 'marketing') this.marketingAt.push(this.now)
      }
      run.since = this.now
      run.skipNext = false
      return 'goesOn'
    }
  }

  /** `open`, the reason it is closed, or when to ask again. */
  gate(step: MessageStep, run: Run): string | Instant {
    if (this.definition.exclusions.some(({ when }) => this.holds(when, run))) return 'exclusion'
    if (run.skipNext) return 'datePast'
    if (step.onlyIf && !this.holds(step.onlyIf, run)) return 'onlyIf'
    if (step.kind !== 'email' || step.purpose === 'transactional') return 'open'
    if (!CONSENT) return 'noConsent'
    const { messageGap, caps = [] } = this.rules
    const opens = messageGap && this.marketingAt.length > 0 ? later(Math.max(...this.marketingAt), messageGap) : 0 // prettier-ignore
    if (opens > this.now) return step.onGap === 'skip' ? 'gap' : opens
    const full = capsOpenAt(caps, this.marketingAt, this.now)
    if (full !== null) return step.onGap === 'skip' ? 'cap' : full
    return this.quietEnd() ?? (isHeldOut(this.rules.holdout, this.now) ? 'holdout' : 'open')
  }

  /** A message that is held leaves at an hour of its own wait, unless that is a quiet one. */
  permitted(until: Instant, { hours }: Run): Instant {
    if (!hours) return until
    const then = nextTime(until, hours.at, hours.weekdays)
    return this.quietEnd(then) === null ? then : until
  }

  quietEnd = (at = this.now): Instant | null => quietEnd(this.rules.quietHours, at)

  left(key: string, run: Run): boolean {
    const first = this.definition.exclusions.find(({ when }) => this.holds(when, run))
    if (first?.effect !== 'leave') return false
    this.say(`left ${key} ${first.key}`)
    return true
  }

  skippedByExclusion(key: string, run: Run): boolean {
    if (!this.definition.exclusions.some(({ when }) => this.holds(when, run))) return false
    this.say(`skipped ${key} exclusion`)
    return true
  }

  holds(condition: Condition, run: Run): boolean {
    switch (condition.kind) {
      case 'all':
        return condition.of.every((one) => this.holds(one, run))
      case 'any':
        return condition.of.some((one) => this.holds(one, run))
      case 'not':
        return !this.holds(condition.of, run)
      case 'segment':
        return this.holds(condition.of, run)
      case 'field':
        return this.fieldHolds(condition, run)
      case 'history': {
        const found = this.past.filter(
          (one) =>
            one.type === condition.event &&
            this.isIn(condition.window, one.at, run) &&
            (condition.about === 'customer' ||
              (one.type !== 'review.submitted' && one.order === run.order)) &&
            (!condition.where || this.holdsOfEvent(condition.where, one)),
        )
        return enough(condition.count, found.length)
      }
      case 'lines': {
        const all = condition.on === 'subject' ? ORDERS[run.order].lines : this.everOrdered()
        const matches = (test: Condition) => (line: (typeof all)[number]) =>
          lineHolds(test, line.category ?? null)
        const like = all.filter((line) => condition.of.some((test) => matches(test)(line)))
        if (condition.how === 'some') return like.length > 0
        if (condition.how === 'none') return like.length === 0
        if (condition.how === 'every') return all.length > 0 && like.length === all.length
        return condition.of.every((test) => all.some(matches(test)))
      }
      case 'messages':
        return this.messagesAt.some((at) => this.isIn(condition.window, at, run))
      case 'workflows': {
        const others = this.runs.filter((one) => one !== run)
        return condition.state === 'isIn'
          ? others.some(({ ended }) => !ended)
          : others.some(({ enteredAt }) => this.isIn(condition.window, enteredAt, run))
      }
    }
  }

  everOrdered() {
    return this.past
      .filter(({ type }) => type === 'order.placed')
      .flatMap(({ order }) => ORDERS[order].lines)
  }

  isIn(window: Window, at: Instant, run: Run): boolean {
    if (at > this.now) return false
    if (window.kind === 'sinceEntry') return at > run.enteredAt
    return window.kind === 'lastDays' ? at >= this.now - window.days * DAY_MS : true
  }

  fieldHolds(condition: Extract<Condition, { kind: 'field' }>, run: Run): boolean {
    switch (condition.field) {
      case 'order.total':
        return totalHolds(condition, run.order)
      case 'customer.emailConsent':
        return CONSENT === condition.value
      case 'customer.tags':
        return (condition.value as string[]).some((tag) => this.tags.has(tag))
      case 'order.status': {
        const newest = this.past
          .filter((one) => one.type !== 'review.submitted' && one.order === run.order)
          .at(-1)
        return newest?.type === `order.${condition.value as string}`
      }
      case 'order.placedAt': {
        const placed = this.past.find((p) => p.type === 'order.placed' && p.order === run.order)
        return placed !== undefined && placed.at >= this.now - Number(condition.value) * DAY_MS
      }
      case 'line.category': {
        const line = run.line === null ? undefined : ORDERS[run.order].lines[run.line]
        return line ? lineHolds(condition, line.category ?? null) : false
      }
      default:
        throw new RangeError(`The naive interpreter does not know ${condition.field}`)
    }
  }

  holdsOfEvent(condition: Condition, happening: Happening): boolean {
    if (condition.kind !== 'field')
      throw new RangeError('Only single tests are asked of events here')
    if (condition.field === 'order.total') return totalHolds(condition, happening.order)
    return happening.stars <= Number(condition.value)
  }
}
