import type { Asked, CompiledCondition, Observation } from '../conditions/compile.ts'
import type { EmailStep } from './definition.ts'
import type { CompiledExclusion, Program } from './compile.ts'
import type { SkipReason } from './decision.ts'

/** What the gates say of one message at one moment. */
export type GateResult =
  | { kind: 'pass'; observed: Observation[] }
  | { kind: 'skip'; reason: SkipReason }
  | { kind: 'leave'; exclusion: string; observed: Observation[] }

/** The first exclusion (of one effect, if given) that holds, in the order they are listed. */
export function heldExclusion(
  program: Program,
  asked: Asked,
  effect?: CompiledExclusion['effect'],
): CompiledExclusion | null {
  const candidates = effect
    ? program.exclusions.filter((exclusion) => exclusion.effect === effect)
    : program.exclusions
  return candidates.find((exclusion) => exclusion.when.holds(asked)) ?? null
}

/**
 * May this message leave now? The gates in their order: exclusions, the message's own condition, a
 * usable address, suppression, consent (marketing only). The first that fails is the reason. Asked
 * by the interpreter when the moment comes and by the sender again just before it hands over.
 */
export function gatesFor(
  program: Program,
  message: { step: EmailStep; onlyIf: CompiledCondition | null },
  asked: Asked,
): GateResult {
  const held = heldExclusion(program, asked)
  if (held) {
    const observed = held.when.observe(asked)
    return held.effect === 'leave'
      ? { kind: 'leave', exclusion: held.key, observed }
      : { kind: 'skip', reason: { code: 'exclusion', exclusion: held.key, observed } }
  }
  if (message.onlyIf && !message.onlyIf.holds(asked)) {
    return { kind: 'skip', reason: { code: 'onlyIf', observed: message.onlyIf.observe(asked) } }
  }
  const reason = addressGates(message.step, asked)
  if (reason) return { kind: 'skip', reason }
  return { kind: 'pass', observed: program.exclusions.flatMap(({ when }) => when.observe(asked)) }
}

function addressGates(step: EmailStep, { facts }: Asked): SkipReason | null {
  const { email, suppressed, emailConsent } = facts.customer
  if (email === null) return { code: 'noAddress' }
  if (suppressed === 'bounced') return { code: 'suppressed', why: suppressed }
  if (step.purpose === 'transactional') return null
  if (suppressed !== null) return { code: 'suppressed', why: suppressed }
  return emailConsent === true ? null : { code: 'noConsent', known: emailConsent !== null }
}
