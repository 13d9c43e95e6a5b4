import { entityFacts, NO_ENTITY } from '../../core/events/entityFacts.ts'
import { readCloudEvent, subjectIdOf, type CloudEvent } from '../../core/events/cloudEvent.ts'
import type { CustomerFacts, Facts, PastMessage } from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'
import { advance } from '../../core/workflow/advance.ts'
import { compileProgram, type Program } from '../../core/workflow/compile.ts'
import type { Decision } from '../../core/workflow/decision.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { freshRun, type RunState } from '../../core/workflow/runState.ts'
import { considerStart } from '../../core/workflow/start.ts'
import { isPerLine } from '../../core/workflow/trigger.ts'
import { facts as baseFacts } from '../coreFacts.ts'
import { toEvent, type Happening, type ModelShopRules } from './happenings.ts'

/** A decision with its run and its time. */
export interface Decided {
  at: Instant
  run: number | null
  decision: Decision
}

interface Run {
  id: number
  orderId: string
  line: number | null
  state: RunState
}

interface Arrived {
  at: Instant
  event: CloudEvent
}

const WORKFLOW = 'w'

/**
 * The core's interpreter with everything in memory and a clock that jumps from one moment at which
 * something is due to the next. One customer, one workflow, any number of runs.
 */
export function interpret(
  definition: Definition,
  happenings: readonly Happening[],
  rules: ModelShopRules,
): Decided[] {
  return new InMemory(compileProgram(definition), rules).live(happenings)
}

class InMemory {
  readonly decided: Decided[] = []
  readonly runs: Run[] = []
  readonly arrived: Arrived[] = []
  messages: readonly PastMessage[] = []
  tags: readonly string[] = []

  readonly program: Program
  readonly rules: ModelShopRules

  constructor(program: Program, rules: ModelShopRules) {
    this.program = program
    this.rules = rules
  }

  live(happenings: readonly Happening[]): Decided[] {
    happenings.forEach((happening, index) => {
      this.runUntil(happening.arrivesAt)
      this.take(happening, index)
    })
    this.runUntil(Infinity)
    return this.decided
  }

  /** Does what falls due up to a moment, in order of time and then of entry. */
  runUntil(end: Instant): void {
    for (;;) {
      const due = this.runs
        .filter(({ state }) => state.status === 'inProgress' && (state.dueAt ?? Infinity) <= end)
        .toSorted((a, b) => (a.state.dueAt ?? 0) - (b.state.dueAt ?? 0) || a.id - b.id)
      const [next] = due
      if (!next) return
      this.move(next, next.state.dueAt ?? 0)
    }
  }

  take(happening: Happening, index: number): void {
    const read = readCloudEvent(toEvent(happening, index))
    if (!read.ok) throw new Error(`The model made a bad event: ${JSON.stringify(read.problems)}`)
    const { at, arrivesAt: now } = happening
    this.arrived.push({ at, event: read.event })
    // A late one is counted at its own time.
    this.arrived.sort((a, b) => a.at - b.at)
    const waiting = this.runs.filter(({ state }) => state.awaits !== null)
    if (happening.type === 'order.placed') this.start(happening)
    for (const run of waiting) {
      const { awaits, status } = run.state
      const isNews =
        awaits === happening.type ||
        (awaits === 'subject' && run.orderId === subjectIdOf(read.event.data))
      if (status === 'inProgress' && isNews) this.move(run, now)
    }
  }

  start({ order: orderId, at, arrivesAt: now }: Happening): void {
    for (const line of this.linesFor(orderId, at, now)) {
      const facts = this.factsFor({ id: -1, orderId, line }, now)
      const entered = this.runs.map(({ state }) => state.enteredAt)
      const decision = considerStart(this.program, { at, cause: { by: 'event' } }, facts, {
        lastEnteredAt: entered.length === 0 ? null : Math.max(...entered),
        inProgress: this.runs.some(({ state }) => state.status === 'inProgress'),
      })
      const id = this.runs.length + 1
      this.decided.push({ at: now, run: decision.kind === 'entered' ? id : null, decision })
      if (decision.kind !== 'entered') continue
      const run: Run = { id, orderId, line, state: freshRun(this.program, at) }
      this.runs.push(run)
      this.move(run, now, { ...facts, entries: facts.entries })
    }
  }

  linesFor(orderId: string, at: Instant, now: Instant): (number | null)[] {
    const { trigger } = this.program.definition
    if (!isPerLine(trigger)) return [null]
    const { order } = this.factsFor({ id: -1, orderId, line: null }, now)
    const matching = (order?.lines ?? []).flatMap((_, line) => {
      const facts = this.factsFor({ id: -1, orderId, line }, now)
      return this.program.filter?.holds({ facts, enteredAt: at }) === false ? [] : [line]
    })
    return matching.length > 0 ? matching : [null]
  }

  move(run: Run, now: Instant, given = this.factsFor(run, now)): void {
    const { decisions, next, facts } = advance(this.program, run.state, given)
    run.state = next
    this.messages = facts.messages.map((one) =>
      one.runId === null ? { ...one, runId: run.id } : one,
    )
    this.tags = facts.customer.tags
    this.decided.push(...decisions.map((decision) => ({ at: now, run: run.id, decision })))
  }

  factsFor({ id, orderId, line }: Pick<Run, 'id' | 'orderId' | 'line'>, now: Instant): Facts {
    const history = this.arrived.map(({ at, event }) => ({
      type: event.type,
      at,
      subjectId: subjectIdOf(event.data),
      entity: entityFacts(event.type, event.data, at),
    }))
    const ofOrder = history.filter(({ entity }) => entity.order?.id === orderId)
    const newest = ofOrder.at(-1)?.entity.order ?? null
    const placedAt = ofOrder.find(({ type }) => type === 'order.placed')?.at ?? null
    const order = newest && { ...newest, placedAt }
    const customer: Partial<CustomerFacts> = { zone: null, country: 'IE', tags: this.tags }
    return {
      ...baseFacts({ now, history, customer, shop: this.rules }),
      ...NO_ENTITY,
      self: { workflowId: WORKFLOW, runId: id === -1 ? null : id },
      subject: { kind: 'order', id: orderId },
      order,
      line: line === null ? null : (order?.lines[line] ?? null),
      messages: this.messages,
      entries: this.runs
        .filter((run) => run.id !== id)
        .map(({ state }) => ({
          workflowId: WORKFLOW,
          enteredAt: state.enteredAt,
          inProgress: state.status === 'inProgress',
        })),
    }
  }
}
