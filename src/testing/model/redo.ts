import type { CompiledCondition } from '../../core/conditions/compiled.ts'
import type { Observation } from '../../core/conditions/observation.ts'
import type { Facts } from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'
import { takeStep } from '../../core/workflow/advance.ts'
import type { Instruction, Program } from '../../core/workflow/compile.ts'
import type { Decision, GateFacts } from '../../core/workflow/decision.ts'
import { freshRun, type RunState } from '../../core/workflow/runState.ts'
import { aLine, facts as baseFacts } from '../coreFacts.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Capped } from '../../core/workflow/caps.ts'
import type { ModelShopRules } from './happenings.ts'

/** A decision as the ledger has it. */
export interface Written {
  at: Instant
  decision: Decision
}

/**
 * Takes a run again through the interpreter, with nothing but what the ledger says of it: conditions
 * judge the facts that were observed, gates see what they saw. Returns what it decides now.
 */
export function redo(
  program: Program,
  rules: ModelShopRules,
  enteredAt: Instant,
  written: readonly Written[],
): Decision[] {
  let state = freshRun(program, enteredAt)
  // What a run waited for, in which zone: that its moment has come is not said again.
  const known: Known = { dates: new Map(), zone: null }
  return written.map(({ at, decision }) => {
    const seen = observationsOf(program, decision)
    const recalled = recallingProgram(program, seen, at)
    learn(known, decision)
    const facts = factsOf(decision, at, rules, known)
    const outcome = nextDecision(recalled, state, (step) => ({
      ...facts,
      order: facts.order && { ...facts.order, lines: linesOf(known, step) },
    }))
    state = outcome.next
    return outcome.decision
  })
}

function nextDecision(
  program: Program,
  from: RunState,
  factsAt: (step: string | null) => Facts,
): { decision: Decision; next: RunState } {
  let state = from
  for (;;) {
    const { decision, next } = takeStep(program, state, factsAt(state.step))
    if (decision) return { decision, next }
    if (next === state) throw new Error(`Nothing is decided at step ${String(state.step)}`)
    state = next
  }
}

type Seen = Map<CompiledCondition, Observation[]>

/** Which observations of an entry belong to which condition: they stand in the order of asking. */
function observationsOf(program: Program, decision: Decision): Seen {
  const exclusions = program.exclusions.map(({ when }) => when)
  // A code is issued by the message that shows it.
  const at =
    decision.kind === 'issues' && decision.message !== undefined
      ? decision.message
      : 'step' in decision
        ? decision.step
        : null
  const instruction = at === null ? undefined : program.instructions.get(at)
  const own = instruction?.kind === 'message' && instruction.onlyIf ? [instruction.onlyIf] : []
  switch (decision.kind) {
    case 'tookBranch':
      return dealt(branchesOf(instruction), decision.observed)
    case 'waits':
      return dealt([...exclusions, ...own], decision.observed ?? [])
    case 'sends':
      return dealt([...exclusions, ...own], decision.observed)
    case 'issues':
      return dealt([...exclusions, ...own], decision.observed)
    case 'calls':
      return dealt(exclusions, decision.observed)
    case 'left':
      return dealt(exclusions, [...decision.before, ...decision.observed])
    case 'skipped': {
      const { reason, before } = decision
      return dealt(
        [...exclusions, ...own],
        [...before, ...('observed' in reason ? reason.observed : [])],
      )
    }
    case 'came':
    case 'datePast':
    case 'ended':
    case 'entered':
    case 'marks':
    case 'tookArm':
    case 'turnedAway':
      return new Map()
  }
}

const branchesOf = (instruction: Instruction | undefined): CompiledCondition[] =>
  instruction?.kind === 'split' ? instruction.branches.map(({ when }) => when) : []

function dealt(conditions: readonly CompiledCondition[], observed: readonly Observation[]): Seen {
  const seen: Seen = new Map()
  let from = 0
  for (const condition of conditions) {
    if (from >= observed.length && testCount(condition) > 0) break
    const upTo = from + testCount(condition)
    seen.set(condition, observed.slice(from, upTo))
    from = upTo
  }
  return seen
}

/** How many tests a condition makes: one observation for each. */
function testCount(condition: CompiledCondition): number {
  return condition.observe({ facts: baseFacts(), enteredAt: 0 }).length
}

/** The program with every condition answering from what was observed. */
function recallingProgram(program: Program, seen: Seen, now: Instant): Program {
  const zone = baseFacts().shop.zone
  const recalling = (condition: CompiledCondition): CompiledCondition => ({
    ...condition,
    observe: () => seen.get(condition) ?? [],
    holds: () => {
      const observed = seen.get(condition)
      if (!observed) throw new Error('A condition is asked whose facts the ledger does not have')
      let next = 0
      return condition.judge(() => observed[next++] as Observation, { now, zone })
    },
  })
  const instructions = new Map(
    [...program.instructions].map(([key, one]) => [key, recallingInstruction(one, recalling)]),
  )
  const exclusions = program.exclusions.map((one) => ({ ...one, when: recalling(one.when) }))
  return { ...program, instructions, exclusions }
}

function recallingInstruction(
  instruction: Instruction,
  recalling: (condition: CompiledCondition) => CompiledCondition,
): Instruction {
  if (instruction.kind === 'message') {
    return { ...instruction, onlyIf: instruction.onlyIf && recalling(instruction.onlyIf) }
  }
  if (instruction.kind === 'split') {
    const branches = instruction.branches.map((one) => ({ ...one, when: recalling(one.when) }))
    return { ...instruction, branches }
  }
  // That the event was as asked is what the entry says by naming its time.
  return instruction.kind === 'waitFor' ? { ...instruction, where: null } : instruction
}

interface Known {
  /** The date that each step went by. */
  dates: Map<string, Instant | null>
  zone: string | null
}

function learn(known: Known, decision: Decision): void {
  const gates = 'gates' in decision ? decision.gates : undefined
  if ('zone' in decision) known.zone = decision.zone
  else known.zone = gates?.zone ?? known.zone
  if (decision.kind === 'datePast') known.dates.set(decision.step, decision.date)
  if (decision.kind === 'waits' && decision.reason.code === 'date') {
    known.dates.set(decision.step, decision.reason.date)
  }
}

/** An order whose one line is booked for the date that the step went by. */
const linesOf = ({ dates }: Known, step: string | null) => [
  aLine({ startsAt: dates.get(step ?? '') ?? null }),
]

/** As much of the facts as the entries up to now tell, and nothing else. */
function factsOf(decision: Decision, now: Instant, rules: ModelShopRules, known: Known): Facts {
  const gates = 'gates' in decision ? decision.gates : undefined
  const { zone } = known
  const channels = channelsOf(gates)
  const facts = baseFacts({ now, shop: rules, customer: { zone }, ...(channels && { channels }) })
  const marks = 'marks' in decision ? decision.marks : undefined
  return {
    ...facts,
    customer: { ...facts.customer, ...marks },
    messages: messagesOf(decision, gates, now),
    history:
      decision.kind === 'came' && decision.cameAt !== null
        ? [{ type: decision.event, at: decision.cameAt, subjectId: 'o1' }]
        : [],
  }
}

/** How the gates saw that somebody can be reached, by whichever channel it was. */
function channelsOf(gates: GateFacts | undefined): Facts['customer']['channels'] | undefined {
  if (!gates) return undefined
  const { hasAddress, suppressed, consent } = gates
  const address = hasAddress ? 'somewhere' : null
  return { email: { address, suppressed, consent }, sms: { address, suppressed, consent } }
}

/** As many messages as fill a cap, all of the moment by which it opens when it does. */
function cappingMessages({ cap: { channel, most, days }, opensAt }: Capped) {
  const way = channel === 'all' ? 'email' : channel
  const at = opensAt - days * DAY_MS
  return Array.from({ length: most }, () => ({ runId: 0, step: '', at, marketing: true, channel: way })) // prettier-ignore
}

function messagesOf(
  decision: Decision,
  gates: GateFacts | undefined,
  now: Instant,
): Facts['messages'] {
  const gapAt =
    decision.kind === 'waits' && decision.reason.code === 'gap' ? decision.reason.lastAt : null
  const last = gates?.lastMarketingAt ?? gapAt
  const message = { workflowId: 'w1', openedAt: null, clickedAt: null }
  const cap = gates?.capped ?? ((decision.kind === 'waits' && decision.reason.code === 'cap') ? decision.reason : undefined) // prettier-ignore
  return [
    ...(cap ? cappingMessages(cap).map((one) => ({ ...message, ...one })) : []),
    ...(last === null ? [] : [{ ...message, runId: 0, step: '', at: last, marketing: true }]),
    ...(gates?.sentBefore && 'step' in decision && decision.step !== null
      ? [{ ...message, runId: 1, step: decision.step, at: now, marketing: false }]
      : []),
  ]
}
