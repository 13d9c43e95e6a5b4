import type { Observation } from '../conditions/observation.ts'
import { zoneOf, type Facts } from '../events/facts.ts'
import { assertNever } from '../shared/assertNever.ts'
import { addDuration } from '../shared/duration.ts'
import { armFor, rollOf } from './arms.ts'
import type { Instruction, MessageInstruction, Program, WaitForInstruction } from './compile.ts'
import type { Decision } from './decision.ts'
import { actionGates, gatesFor, type GateResult, type Held } from './gates.ts'
import { marked, marksOf } from './marks.ts'
import type { RunState } from './runState.ts'
import { type CouponStep, isToCustomer } from './steps.ts'
import { awaitedAt, untilMoment, waitEnd } from './waits.ts'

/** What one step of the interpreter comes to. */
interface Outcome {
  decision: Decision | null
  next: RunState
  /** The run waits, or has ended. */
  stop: boolean
  /** The facts as the step leaves them, where it changes any. */
  facts?: Facts
}

export interface Advance {
  decisions: Decision[]
  next: RunState
  /** The facts as the run leaves them: with its marks on the customer and its messages. */
  facts: Facts
}

type Of<Kind extends Instruction['kind']> = Extract<Instruction, { kind: Kind }>

/**
 * Takes a run as far as it can go at `facts.now`: to the next wait that is not over, or to its end.
 * Nothing else in Yomble decides what happens to a run. Deterministic: the same program, run and
 * facts give the same decisions. Steps have no way back, so it always ends.
 * Throws RangeError when the run stands at a step the program does not have.
 */
export function advance(program: Program, run: RunState, given: Facts): Advance {
  const decisions: Decision[] = []
  let state = run
  let facts = given
  while (state.status === 'inProgress') {
    const outcome = takeStep(program, state, facts)
    if (outcome.decision) decisions.push(outcome.decision)
    state = outcome.next
    facts = outcome.facts ?? facts
    if (outcome.stop) break
  }
  return { decisions, next: state, facts }
}

/** Takes the one step a run stands at. `advance` is this until it stops. */
export function takeStep(program: Program, run: RunState, facts: Facts): Outcome {
  if (run.step === null) return ended(run, null)
  const instruction = program.instructions.get(run.step)
  if (!instruction) throw new RangeError(`The version has no step "${run.step}"`)
  switch (instruction.kind) {
    case 'wait':
      return takeWait(instruction, run, facts)
    case 'until':
      return takeUntil(instruction, run, facts)
    case 'waitFor':
      return takeWaitFor(instruction, run, facts)
    case 'split':
      return takeSplit(instruction, run, facts)
    case 'experiment':
      return takeExperiment(instruction, run, facts)
    case 'message':
      return takeMessage(program, instruction, run, facts)
    case 'action':
      return takeAction(program, instruction, run, facts)
    case 'end':
      return ended(run, instruction.key)
    default:
      return assertNever(instruction, 'instruction')
  }
}

type Wait = Omit<Kinds<'waits'>, 'kind' | 'zone'>

const waits = (wait: Wait, facts: Facts): Decision => ({
  kind: 'waits',
  ...wait,
  zone: zoneOf(facts),
})

/** Parks a run until `until`. Says so once, not each time it is looked at in between. */
function parked(
  run: RunState,
  wait: Wait,
  facts: Facts,
  awaits: RunState['awaits'] = null,
): Outcome {
  const { until } = wait
  const decision = run.dueAt === until ? null : waits(wait, facts)
  return { decision, next: { ...run, dueAt: until, awaits }, stop: true }
}

type Kinds<Kind extends Decision['kind']> = Extract<Decision, { kind: Kind }>

/** A run that goes on to a step, its wait behind it; `hours` are those that the wait permits. */
function onward(
  run: RunState,
  step: string | null,
  since: number,
  hours: RunState['hours'] = null,
): RunState {
  return { ...run, step, dueAt: null, awaits: null, since, hours }
}

function takeWait({ key, step, next }: Of<'wait'>, run: RunState, facts: Facts): Outcome {
  const until = run.dueAt ?? waitEnd(step, run.since, facts)
  if (until > facts.now) return parked(run, { step: key, until, reason: { code: 'time' } }, facts)
  const hours = step.at === undefined ? null : { at: step.at, weekdays: step.weekdays }
  return { decision: null, next: onward(run, next, until, hours), stop: false }
}

function takeUntil({ key, step, next }: Of<'until'>, run: RunState, facts: Facts): Outcome {
  const { date, moment } = untilMoment(step, facts)
  if (moment !== null && moment > facts.now) {
    const awaits = step.until.kind === 'field' ? 'subject' : null
    return parked(run, { step: key, until: moment, reason: { code: 'date', date } }, facts, awaits)
  }
  // It has come in its time, unless the date was moved so that its moment is past all at once.
  const inTime = moment !== null && (moment === facts.now || (run.dueAt ?? Infinity) <= facts.now)
  if (inTime) {
    // Reached on the very moment: said all the same, or nobody could tell from the ledger why.
    const reached = { step: key, until: moment, reason: { code: 'date', date } } as const
    const decision = run.dueAt === null ? waits(reached, facts) : null
    return { decision, next: onward(run, next, moment), stop: false }
  }
  const { ifPast } = step
  const zone = zoneOf(facts)
  const decision: Decision = { kind: 'datePast', step: key, date, moment, zone, did: ifPast }
  if (ifPast === 'leave') {
    return { decision, next: { ...closed(run), since: facts.now }, stop: true }
  }
  const skipNext = run.skipNext || ifPast === 'skipNext'
  return { decision, next: { ...onward(run, next, facts.now), skipNext }, stop: false }
}

function takeWaitFor(instruction: WaitForInstruction, run: RunState, facts: Facts): Outcome {
  const { key, step } = instruction
  const limitAt = addDuration(run.since, step.limit, zoneOf(facts))
  const at = awaitedAt(instruction, run.enteredAt, limitAt, facts)
  if (at === null && limitAt > facts.now) {
    const reason = { code: 'event', event: step.event } as const
    return parked(run, { step: key, until: limitAt, reason }, facts, step.event)
  }
  const decision: Decision = {
    kind: 'came',
    step: key,
    event: step.event,
    cameAt: at,
    zone: zoneOf(facts),
  }
  const next =
    at === null
      ? onward(run, instruction.otherwise, limitAt)
      : onward(run, instruction.came, Math.max(run.since, at))
  return { decision, next, stop: false }
}

function takeSplit(
  { key, branches, otherwise }: Of<'split'>,
  run: RunState,
  facts: Facts,
): Outcome {
  const asked = { facts, enteredAt: run.enteredAt }
  const index = branches.findIndex((branch) => branch.when.holds(asked))
  const taken = branches[index]
  const looked = taken ? branches.slice(0, index + 1) : branches
  const observed = looked.flatMap((branch) => branch.when.observe(asked))
  return {
    decision: { kind: 'tookBranch', step: key, branch: taken?.key ?? null, observed },
    next: { ...run, step: taken ? taken.first : otherwise },
    stop: false,
  }
}

function takeExperiment(
  { key, lottery, arms }: Of<'experiment'>,
  run: RunState,
  facts: Facts,
): Outcome {
  const roll = rollOf(lottery, facts.customer.id)
  const arm = armFor(arms, roll)
  return {
    decision: { kind: 'tookArm', step: key, arm: arm.key, holdout: arm.holdout, roll },
    next: { ...run, step: arm.first },
    stop: false,
  }
}

function takeMessage(
  program: Program,
  message: MessageInstruction,
  run: RunState,
  facts: Facts,
): Outcome {
  const { key, next } = message
  const gates = gatesFor(program, message, run, facts)
  switch (gates.kind) {
    case 'leave':
      return left(key, gates.held, run)
    case 'hold':
      return parked(run, { step: key, ...gates.hold }, facts)
    case 'skip': {
      const { reason, before, gates: seen } = gates
      // A message that is passed over for being late leaves the rhythm of the others as it was.
      const late = reason.code === 'tooLate' || reason.code === 'datePast'
      return {
        decision: { kind: 'skipped', step: key, reason, before, ...(seen && { gates: seen }) },
        next: { ...onward(run, next, late ? run.since : facts.now, run.hours), skipNext: false },
        stop: false,
      }
    }
    case 'pass': {
      const owed = message.showsCoupon ? lastOwed(program, run) : null
      if (!owed) return sends(program, message, run, facts, gates)
      const { observed, gates: seen } = gates
      const decision: Decision = { ...issuing(owed, facts, observed), message: key, gates: seen }
      return { decision, next: { ...run, owed: [] }, stop: false }
    }
    default:
      return assertNever(gates, 'gate result')
  }
}

function sends(
  program: Program,
  { key, step, next }: MessageInstruction,
  run: RunState,
  facts: Facts,
  { observed, gates }: Extract<GateResult, { kind: 'pass' }>,
): Outcome {
  const marketing = isToCustomer(step) && step.purpose === 'marketing'
  const hours = marketing && run.hours ? { hours: run.hours } : {}
  const marks = marksSeen(program, facts)
  const own = {
    ...facts.self,
    step: key,
    at: facts.now,
    marketing,
    ...(isToCustomer(step) && { channel: step.kind }),
    openedAt: null,
    clickedAt: null,
  }
  return {
    decision: { kind: 'sends', step: key, observed, gates, ...hours, ...marks },
    next: onward(run, next, facts.now, run.hours),
    facts: { ...facts, messages: [...facts.messages, own] },
    stop: false,
  }
}

function takeAction(
  program: Program,
  { key, step, next }: Of<'action'>,
  run: RunState,
  facts: Facts,
): Outcome {
  if (step.kind !== 'coupon' && step.kind !== 'hook') {
    return {
      decision: { kind: 'marks', step: key },
      next: { ...run, step: next },
      facts: { ...facts, customer: marked(facts.customer, step) },
      stop: false,
    }
  }
  if (step.kind === 'coupon' && program.shownLater.has(key)) {
    return { decision: null, next: { ...run, step: next, owed: [...run.owed, key] }, stop: false }
  }
  const gates = actionGates(program, { facts, enteredAt: run.enteredAt })
  if (gates.kind === 'leave') return left(key, gates.held, run)
  if (gates.kind === 'skip') {
    const { reason, before } = gates
    const decision: Decision = { kind: 'skipped', step: key, reason, before }
    return { decision, next: { ...run, step: next }, stop: false }
  }
  const { observed } = gates
  const decision: Decision =
    step.kind === 'hook'
      ? { kind: 'calls', step: key, observed, ...marksSeen(program, facts) }
      : issuing(step, facts, observed)
  return { decision, next: { ...run, step: next }, stop: false }
}

function issuing(
  { key, expiresAfter }: CouponStep,
  facts: Facts,
  observed: Observation[],
): Kinds<'issues'> {
  const zone = zoneOf(facts)
  const expiresAt = expiresAfter ? addDuration(facts.now, expiresAfter, zone) : null
  return { kind: 'issues', step: key, zone, expiresAt, observed }
}

/** The coupon that a message shows, if its code is still to be issued: the last one the run has passed. */
function lastOwed(program: Program, { owed }: RunState): CouponStep | null {
  const instruction = program.instructions.get(owed.at(-1) ?? '')
  const isCoupon = instruction?.kind === 'action' && instruction.step.kind === 'coupon'
  return isCoupon ? (instruction.step as CouponStep) : null
}

/** What the person was marked with, where the program itself may change that before the hand-over. */
const marksSeen = (program: Program, { customer }: Facts) =>
  program.marks ? { marks: marksOf(customer) } : {}

function left(step: string, held: Held, run: RunState): Outcome {
  const { exclusion, observed, before } = held
  return {
    decision: { kind: 'left', step, exclusion: exclusion.key, observed, before },
    next: closed(run),
    stop: true,
  }
}

function ended(run: RunState, step: string | null): Outcome {
  return { decision: { kind: 'ended', step }, next: closed(run), stop: true }
}

const closed = (run: RunState): RunState => ({
  ...run,
  status: 'ended',
  step: null,
  dueAt: null,
  awaits: null,
})
