import type { Facts } from '../events/facts.ts'
import { zoneOf } from '../events/facts.ts'
import { assertNever } from '../shared/assertNever.ts'
import { addDuration } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'
import type { Instruction, Program } from './compile.ts'
import type { Decision } from './decision.ts'
import { gatesFor } from './gates.ts'

/** Where one run stands. A value: every step of the interpreter returns a new one. */
export interface RunState {
  enteredAt: Instant
  status: 'inProgress' | 'ended'
  /** The step the run is at; null once it has ended. */
  step: string | null
  /** When a wait at `step` is over; null when the run is not waiting. */
  dueAt: Instant | null
  /**
   * The moment the next wait counts from: the triggering event's own time at first, then the end of
   * the last wait, then the moment of the last message.
   */
  since: Instant
}

export interface Advance {
  decisions: Decision[]
  next: RunState
}

type Outcome = { decision: Decision | null; next: RunState; stop: boolean }

/** A run that is about to take its first step. */
export function freshRun(program: Program, enteredAt: Instant): RunState {
  return { enteredAt, status: 'inProgress', step: program.first, dueAt: null, since: enteredAt }
}

/**
 * Takes a run as far as it can go at `facts.now`: to the next wait that is not over, or to its end.
 * Nothing else in Yomble decides what happens to a run. Deterministic: the same program, run and
 * facts give the same decisions. Steps have no way back, so it always ends.
 * Throws RangeError when the run stands at a step the program does not have.
 */
export function advance(program: Program, run: RunState, facts: Facts): Advance {
  const decisions: Decision[] = []
  let state = run
  while (state.status === 'inProgress') {
    const outcome = takeStep(program, state, facts)
    if (outcome.decision) decisions.push(outcome.decision)
    state = outcome.next
    if (outcome.stop) break
  }
  return { decisions, next: state }
}

function takeStep(program: Program, run: RunState, facts: Facts): Outcome {
  if (run.step === null) return ended(run, null)
  const instruction = program.instructions.get(run.step)
  if (!instruction) throw new RangeError(`The version has no step "${run.step}"`)
  switch (instruction.kind) {
    case 'wait':
      return takeWait(instruction, run, facts)
    case 'split':
      return takeSplit(instruction, run, facts)
    case 'email':
      return takeEmail(program, instruction, run, facts)
    case 'end':
      return ended(run, instruction.key)
    default:
      return assertNever(instruction, 'instruction')
  }
}

function takeWait(
  wait: Extract<Instruction, { kind: 'wait' }>,
  run: RunState,
  facts: Facts,
): Outcome {
  const until = run.dueAt ?? addDuration(run.since, wait.for, zoneOf(facts))
  if (until <= facts.now) {
    return {
      decision: null,
      next: { ...run, step: wait.next, dueAt: null, since: until },
      stop: false,
    }
  }
  const parked = run.dueAt !== null
  return {
    decision: parked ? null : { kind: 'waits', step: wait.key, until },
    next: { ...run, dueAt: until },
    stop: true,
  }
}

function takeSplit(
  split: Extract<Instruction, { kind: 'split' }>,
  run: RunState,
  facts: Facts,
): Outcome {
  const asked = { facts, enteredAt: run.enteredAt }
  const taken = split.branches.find((branch) => branch.when.holds(asked))
  const observed = taken
    ? taken.when.observe(asked)
    : split.branches.flatMap((branch) => branch.when.observe(asked))
  return {
    decision: { kind: 'tookBranch', step: split.key, branch: taken?.key ?? null, observed },
    next: { ...run, step: taken ? taken.first : split.otherwise },
    stop: false,
  }
}

function takeEmail(
  program: Program,
  email: Extract<Instruction, { kind: 'email' }>,
  run: RunState,
  facts: Facts,
): Outcome {
  const gates = gatesFor(program, email, { facts, enteredAt: run.enteredAt })
  const onward = { ...run, step: email.next, since: facts.now }
  switch (gates.kind) {
    case 'leave': {
      const { exclusion, observed } = gates
      return {
        decision: { kind: 'left', step: email.key, exclusion, observed },
        next: { ...run, status: 'ended', step: null },
        stop: true,
      }
    }
    case 'skip':
      return {
        decision: { kind: 'skipped', step: email.key, reason: gates.reason },
        next: onward,
        stop: false,
      }
    case 'pass':
      return {
        decision: { kind: 'sends', step: email.key, observed: gates.observed },
        next: onward,
        stop: false,
      }
    default:
      return assertNever(gates, 'gate result')
  }
}

function ended(run: RunState, step: string | null): Outcome {
  return {
    decision: { kind: 'ended', step },
    next: { ...run, status: 'ended', step: null, dueAt: null },
    stop: true,
  }
}
