import type { Reachable } from '../channels/catalogue.ts'
import type { Asked } from '../conditions/compiled.ts'
import type { Observation } from '../conditions/observation.ts'
import { zoneOf, type Facts, type PastMessage } from '../events/facts.ts'
import { cappedBy } from './caps.ts'
import { addDuration } from '../shared/duration.ts'
import { nextLocalTime, quietUntil } from '../shared/localTime.ts'
import type { Instant } from '../shared/time.ts'
import type { CompiledExclusion, MessageInstruction, Program } from './compile.ts'
import type { GateFacts, SkipReason, WaitReason } from './decision.ts'
import type { LocalHours } from './runState.ts'
import { isHeldOut } from './shopHoldout.ts'
import { isToCustomer, type CustomerMessageStep, type MessageStep } from './steps.ts'

/** An exclusion that holds, with what it saw and what those before it saw. */
export interface Held {
  exclusion: CompiledExclusion
  observed: Observation[]
  before: Observation[]
}

/** What the gates say of one message at one moment. */
export type GateResult =
  | { kind: 'pass'; observed: Observation[]; gates: GateFacts }
  | { kind: 'skip'; reason: SkipReason; before: Observation[]; gates?: GateFacts }
  | { kind: 'leave'; held: Held }
  | {
      kind: 'hold'
      hold: { until: Instant; reason: WaitReason; observed: Observation[]; gates: GateFacts }
    }

type Closed = Extract<GateResult, { kind: 'skip' | 'leave' }>

/** What exclusions say of an action that has an effect outside. */
export type ActionGateResult = Closed | { kind: 'pass'; observed: Observation[] }

/** What a run brings to the gates beside the facts. */
export interface GatedRun {
  enteredAt: Instant
  /** The moment the message is for. */
  since: Instant
  skipNext: boolean
  skipBefore: Instant | null
  /** The hours that its own wait permits. */
  hours: LocalHours | null
}

/** The first exclusion (of one effect, if given) that holds, in the order they are listed. */
export function heldExclusion(
  program: Program,
  asked: Asked,
  effect?: CompiledExclusion['effect'],
): Held | null {
  const candidates = effect
    ? program.exclusions.filter((exclusion) => exclusion.effect === effect)
    : program.exclusions
  const index = candidates.findIndex((exclusion) => exclusion.when.holds(asked))
  const exclusion = candidates[index]
  if (!exclusion) return null
  const before = candidates.slice(0, index).flatMap(({ when }) => when.observe(asked))
  return { exclusion, observed: exclusion.when.observe(asked), before }
}

/**
 * May this message leave now? The gates in their order: exclusions, a date that is past, the message's
 * own condition, a usable address, suppression, consent, sent already, quiet, message gap, caps, quiet hours, the
 * shop's holdout (the last nine for customers; consent and what follows "sent already" for marketing only). The first that fails is the reason.
 * Asked by the interpreter when the moment comes and by the sender again just before it hands over.
 */
export function gatesFor(
  program: Program,
  message: MessageInstruction,
  run: GatedRun,
  facts: Facts,
): GateResult {
  const asked = { facts, enteredAt: run.enteredAt }
  const held = heldExclusion(program, asked)
  if (held) return excluded(held)
  const before = program.exclusions.flatMap(({ when }) => when.observe(asked))
  const own = message.onlyIf?.observe(asked) ?? []
  const reason = ownReason(message, run, asked, own)
  if (reason) return { kind: 'skip', reason, before }
  const gates = gateFacts(message.step, facts)
  const observed = [...before, ...own]
  const refusal = isToCustomer(message.step)
    ? customerGates(message.step, gates, facts, run.hours)
    : null
  if (refusal === null) return { kind: 'pass', observed, gates }
  if (refusal.kind === 'skip') return { ...refusal, before: observed, gates }
  const { until, reason: why } = refusal
  return { kind: 'hold', hold: { until, reason: why, observed, gates } }
}

/**
 * May this coupon be issued, this hook be called? They have an effect outside, so exclusions are asked
 * before them as before messages.
 */
export function actionGates(program: Program, asked: Asked): ActionGateResult {
  const held = heldExclusion(program, asked)
  if (held) return excluded(held)
  return { kind: 'pass', observed: program.exclusions.flatMap(({ when }) => when.observe(asked)) }
}

function excluded(held: Held): Closed {
  const { exclusion, observed, before } = held
  if (exclusion.effect === 'leave') return { kind: 'leave', held }
  return { kind: 'skip', reason: { code: 'exclusion', exclusion: exclusion.key, observed }, before }
}

/** Why the message is passed over for what the run brings along, or by its own condition. */
function ownReason(
  message: MessageInstruction,
  { skipNext, skipBefore, since }: GatedRun,
  asked: Asked,
  observed: Observation[],
): SkipReason | null {
  if (skipNext) return { code: 'datePast' }
  if (skipBefore !== null && since < skipBefore) return { code: 'tooLate' }
  const holds = !message.onlyIf || message.onlyIf.holds(asked)
  return holds ? null : { code: 'onlyIf', observed }
}

/** What does not go to a customer asks nothing of them. */
const ALWAYS_REACHED: Reachable = { address: '', consent: null, suppressed: null }

/** What the gates of a message look at, beside conditions. */
function gateFacts(step: MessageStep, facts: Facts): GateFacts {
  const { customer, messages, self, shop, now } = facts
  const marketing = isToCustomer(step) && step.purpose === 'marketing'
  const reachable = isToCustomer(step) ? customer.channels[step.kind] : ALWAYS_REACHED
  const before = marketing ? messages.filter((one) => one.marketing) : []
  const last = before.reduce<PastMessage | null>((latest, one) => latest === null || one.at >= latest.at ? one : latest, null) // prettier-ignore
  const behind = last?.at === now && last.workflowId !== self.workflowId ? last.workflowId : undefined // prettier-ignore
  const quietEnds = marketing ? (customer.quietUntil ?? null) : null
  const capped = marketing ? cappedBy(shop.caps ?? [], before, step.kind, now) : null
  return {
    hasAddress: reachable.address !== null,
    suppressed: reachable.suppressed,
    consent: reachable.consent,
    lastMarketingAt: last?.at ?? null,
    ...(behind !== undefined && { behind }),
    ...(quietEnds !== null && quietEnds > now && { quietUntil: quietEnds }),
    ...(capped && { capped }),
    // A run that is only starting has no id yet, and has sent nothing.
    sentBefore:
      self.runId !== null &&
      messages.some((one) => one.runId === self.runId && one.step === step.key),
    heldOut: marketing && isHeldOut(shop.holdout, customer, now),
    zone: zoneOf(facts),
  }
}

type Refusal =
  { kind: 'skip'; reason: SkipReason } | { kind: 'hold'; until: Instant; reason: WaitReason }

/** The gates of a message to a customer, in their order; null when all are open. */
export function customerGates(
  step: CustomerMessageStep,
  gates: GateFacts,
  { now, shop }: Pick<Facts, 'now' | 'shop'>,
  hours: LocalHours | null,
): Refusal | null {
  const skip = (reason: SkipReason): Refusal => ({ kind: 'skip', reason })
  const { suppressed, consent } = gates
  const marketing = step.purpose === 'marketing'
  if (!gates.hasAddress) return skip({ code: 'noAddress' })
  // Who unsubscribed still gets what belongs to an order; a dead address gets nothing.
  if (suppressed !== null && (marketing || suppressed === 'bounced')) {
    return skip({ code: 'suppressed', why: suppressed })
  }
  if (marketing && consent !== true) return skip({ code: 'noConsent', known: consent !== null })
  if (gates.sentBefore) return skip({ code: 'alreadySent' })
  if (!marketing) return null
  const refusal = hoursGates(step, gates, { now, shop })
  // Last of all: who is held out is counted from the moment at which it would have left, as the others are.
  if (refusal === null) return gates.heldOut ? skip({ code: 'holdout' }) : null
  if (refusal.kind !== 'hold' || hours === null) return refusal
  return { ...refusal, until: permittedFrom(refusal.until, hours, gates.zone, shop.quietHours) }
}

/**
 * The first moment from `until` on that a wait's own hours permit: who asks for 17:00 wants nothing at 08:00
 * because that is when the gap is over. Hours that are quiet ones would never come; they do not count.
 */
function permittedFrom(
  until: Instant,
  { at, weekdays }: LocalHours,
  zone: string,
  quietHours: Facts['shop']['quietHours'],
): Instant {
  const permitted = nextLocalTime(until, at, zone, weekdays)
  const isQuiet = quietHours !== null && quietUntil(permitted, quietHours, zone) !== null
  return isQuiet ? until : permitted
}

const behindOf = ({ behind }: GateFacts) => (behind === undefined ? {} : { behind })

function gapRefusal(
  skips: boolean,
  gates: GateFacts,
  { now, shop }: Pick<Facts, 'now' | 'shop'>,
): Refusal | null {
  const { lastMarketingAt: lastAt, zone } = gates
  if (shop.messageGap === null || lastAt === null) return null
  const opensAt = addDuration(lastAt, shop.messageGap, zone)
  if (opensAt <= now) return null
  const behind = behindOf(gates)
  if (skips) return { kind: 'skip', reason: { code: 'gap', lastAt, opensAt, ...behind } }
  return { kind: 'hold', until: opensAt, reason: { code: 'gap', lastAt, ...behind } }
}

/** What holds for marketing to one person over all workflows: quiet, gap, caps, quiet hours. */
function hoursGates(
  step: CustomerMessageStep,
  gates: GateFacts,
  { now, shop }: Pick<Facts, 'now' | 'shop'>,
): Refusal | null {
  const { zone, quietUntil: asked, capped } = gates
  const skips = step.onGap === 'skip'
  if (asked !== undefined) {
    if (skips) return { kind: 'skip', reason: { code: 'quiet', until: asked } }
    return { kind: 'hold', until: asked, reason: { code: 'quiet' } }
  }
  const gap = gapRefusal(skips, gates, { now, shop })
  if (gap) return gap
  if (capped) {
    const reason = { code: 'cap', ...capped, ...behindOf(gates) } as const
    return skips ? { kind: 'skip', reason } : { kind: 'hold', until: capped.opensAt, reason }
  }
  const until = shop.quietHours === null ? null : quietUntil(now, shop.quietHours, zone)
  return until === null ? null : { kind: 'hold', until, reason: { code: 'quietHours' } }
}
