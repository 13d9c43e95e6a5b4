import type { Decision, SkipReason, TurnAwayReason } from '../workflow/decision.ts'
import { allSteps, type Definition } from '../workflow/definition.ts'
import { TOO_OLD_DAYS } from '../workflow/start.ts'
import { assertNever } from '../shared/assertNever.ts'
import type { Observation } from '../conditions/compile.ts'
import { conditionWords, observationWords, type WordContext } from './conditions.ts'
import { dateWords, durationWords } from './quantities.ts'

/** What happened to a message after the decision to send it; recorded by the sender. */
export type DeliveryNote =
  | { kind: 'sent'; step: string; to: string }
  | { kind: 'failed'; step: string; error: string }
  | { kind: 'retries'; step: string; error: string; attempt: number }
  | { kind: 'unsure'; step: string; resent: boolean }
  /** The interpreter could not go on; kept for repair. */
  | { kind: 'stuck'; step: string | null; error: string }

export type LedgerEntry = Decision | DeliveryNote

/** A ledger entry as a sentence: "left before *Care guide*: order refunded on 16 April, 09:12". */
export function entryWords(
  entry: LedgerEntry,
  definition: Definition,
  context: WordContext,
): string {
  if (isDeliveryNote(entry)) return deliveryWords(entry, definition)
  switch (entry.kind) {
    case 'entered':
      return 'Entered'
    case 'turnedAway':
      return `Turned away: ${turnAwayWords(entry.reason, definition, context)}`
    case 'waits':
      return `Waits until ${dateWords(entry.until, context.zone)}`
    case 'tookBranch':
      return branchWords(entry, definition, context)
    case 'sends':
      return `Decided to send “${stepName(definition, entry.step)}”`
    case 'skipped':
      return `Skipped “${stepName(definition, entry.step)}”: ${skipWords(entry.reason, definition, context)}`
    case 'left': {
      const why = exclusionWords(entry.exclusion, entry.observed, definition, context)
      return `Left before “${stepName(definition, entry.step)}”: ${why}`
    }
    case 'ended':
      return entry.step === null ? 'Reached the end' : 'Ended here'
    default:
      return assertNever(entry, 'decision')
  }
}

const DELIVERY_KINDS: ReadonlySet<string> = new Set([
  'sent',
  'failed',
  'retries',
  'unsure',
  'stuck',
])

function isDeliveryNote(entry: LedgerEntry): entry is DeliveryNote {
  return DELIVERY_KINDS.has(entry.kind)
}

function deliveryWords(note: DeliveryNote, definition: Definition): string {
  const name = note.step === null ? 'the end' : stepName(definition, note.step)
  switch (note.kind) {
    case 'sent':
      return `Sent “${name}” to ${note.to}`
    case 'failed':
      return `Could not send “${name}”: ${note.error}`
    case 'retries':
      return `Will try “${name}” again, attempt ${note.attempt} failed: ${note.error}`
    case 'unsure':
      return note.resent
        ? `The process stopped while sending “${name}”; sent again under the same Message-ID`
        : `Unsure whether “${name}” arrived: the process stopped while sending. A person has to decide`
    case 'stuck':
      return `Could not go on at “${name}”: ${note.error}`
    default:
      return assertNever(note, 'delivery note')
  }
}

function branchWords(
  entry: Extract<Decision, { kind: 'tookBranch' }>,
  definition: Definition,
  context: WordContext,
): string {
  const split = allSteps(definition.steps).find((step) => step.key === entry.step)
  const branches = split?.kind === 'split' ? split.branches : []
  const name = branches.find((branch) => branch.key === entry.branch)?.name ?? 'Everyone else'
  return `Took the path “${name}”${because(entry.observed, context)}`
}

function turnAwayWords(
  reason: TurnAwayReason,
  definition: Definition,
  context: WordContext,
): string {
  switch (reason.code) {
    case 'tooOld':
      return `it happened on ${dateWords(reason.happenedAt, context.zone)}, more than ${TOO_OLD_DAYS} days before it arrived`
    case 'filter':
      return `the trigger filter does not hold${because(reason.observed, context)}`
    case 'enteredBefore':
      return `entered before, on ${dateWords(reason.lastEnteredAt, context.zone)}, and may enter only once`
    case 'enteredTooRecently': {
      const { rule } = definition.entry
      const span = rule.kind === 'after' ? durationWords(rule.duration) : 'a while'
      return `entered on ${dateWords(reason.lastEnteredAt, context.zone)}, less than ${span} ago`
    }
    case 'alreadyInProgress':
      return 'still in this workflow from an earlier entry'
    case 'exclusion':
      return exclusionWords(reason.exclusion, reason.observed, definition, context)
    default:
      return assertNever(reason, 'reason')
  }
}

const SUPPRESSION = {
  unsubscribed: 'unsubscribed',
  bounced: 'mail to this address came back',
  complained: 'complained about an earlier message',
} as const

function skipWords(reason: SkipReason, definition: Definition, context: WordContext): string {
  switch (reason.code) {
    case 'exclusion':
      return exclusionWords(reason.exclusion, reason.observed, definition, context)
    case 'onlyIf':
      return `its own condition does not hold${because(reason.observed, context)}`
    case 'noAddress':
      return 'no email address known'
    case 'suppressed':
      return SUPPRESSION[reason.why]
    case 'noConsent':
      return reason.known ? 'said no to marketing by email' : 'never agreed to marketing by email'
    default:
      return assertNever(reason, 'reason')
  }
}

/** The facts that made an exclusion hold; its own words where no single fact did. */
function exclusionWords(
  key: string,
  observed: Observation[],
  definition: Definition,
  context: WordContext,
): string {
  const happened = observed.filter((one) => one.kind === 'history' && one.count > 0)
  if (happened.length > 0) return happened.map((one) => observationWords(one, context)).join(', ')
  const exclusion = definition.exclusions.find((one) => one.key === key)
  const rule = exclusion ? conditionWords(exclusion.when, context) : key
  return `${rule}${because(observed, context)}`
}

function because(observed: readonly Observation[], context: WordContext): string {
  const words = [...new Set(observed.map((one) => observationWords(one, context)))]
  return words.length === 0 ? '' : ` (${words.join('; ')})`
}

/** The name of a message step, for sentences; its key where the version has none. */
export function stepName(definition: Definition, key: string): string {
  const step = allSteps(definition.steps).find((one) => one.key === key)
  return step?.kind === 'email' ? step.name : key
}
