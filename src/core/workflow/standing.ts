import type { Observation } from '../conditions/observation.ts'
import type { EventType } from '../events/eventTypes.ts'
import type { Facts } from '../events/facts.ts'
import type { Instant } from '../shared/time.ts'
import type { Program } from './compile.ts'
import type { Decision, GateFacts } from './decision.ts'
import { foresee, type Foreseen } from './foresee.ts'
import type { RunState } from './runState.ts'
import { isToCustomer, type MessageStep } from './steps.ts'

/** Something that would stop what is to come, or move it, each with what is the case now. */
export type Hindrance =
  | { kind: 'exclusion'; exclusion: string; observed: Observation[] }
  | { kind: 'onlyIf'; step: string; observed: Observation[] }
  | { kind: 'gates'; message: MessageStep; gates: GateFacts }
  /** The event that it waits for: it goes on when it comes, or when the time is out. */
  | { kind: 'event'; event: EventType; until: Instant }
  /** A date of its own thing that it waits for: it moves with it. */
  | { kind: 'date'; until: Instant }

/** What is still to come of a run, if nothing changes, and what would change it. */
export interface Coming {
  foreseen: Foreseen[]
  /** The next message, where there is one. */
  next: { step: string; at: Instant } | null
  hindrances: Hindrance[]
}

/** Looks ahead from where a run stands, with what is known now. */
export function comingOf(program: Program, run: RunState, facts: Facts): Coming {
  const foreseen = foresee(program, run, facts)
  const sends = foreseen.find(({ decision }) => decision.kind === 'sends')
  const message = sends && messageOf(program, sends.decision)
  const asked = { facts, enteredAt: run.enteredAt }
  const exclusions = program.exclusions.map(({ key, when }): Hindrance => ({ kind: 'exclusion', exclusion: key, observed: when.observe(asked) })) // prettier-ignore
  return {
    foreseen,
    next: sends && message ? { step: message.step.key, at: sends.at } : null,
    hindrances: [
      ...awaited(program, run),
      ...exclusions,
      ...(message?.onlyIf
        ? [{ kind: 'onlyIf', step: message.step.key, observed: message.onlyIf.observe(asked) } as const] // prettier-ignore
        : []),
      ...(sends?.decision.kind === 'sends' && message && isToCustomer(message.step)
        ? [{ kind: 'gates', message: message.step, gates: sends.decision.gates } as const]
        : []),
    ],
  }
}

function messageOf(program: Program, decision: Decision) {
  if (decision.kind !== 'sends') return undefined
  const instruction = program.instructions.get(decision.step)
  return instruction?.kind === 'message' ? instruction : undefined
}

/** What the wait that it stands at hangs on. */
function awaited(program: Program, { step, dueAt }: RunState): Hindrance[] {
  const instruction = step === null ? undefined : program.instructions.get(step)
  if (dueAt === null || !instruction) return []
  if (instruction.kind === 'waitFor') {
    return [{ kind: 'event', event: instruction.step.event, until: dueAt }]
  }
  const hangsOnDate = instruction.kind === 'until' && instruction.step.until.kind === 'field'
  return hangsOnDate ? [{ kind: 'date', until: dueAt }] : []
}
