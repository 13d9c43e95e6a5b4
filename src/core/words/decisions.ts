import { reckonedWords } from './reorderWords.ts'
import { CHANNELS } from '../channels/catalogue.ts'
import type { Observation } from '../conditions/observation.ts'
import { findField } from '../conditions/fields.ts'
import { assertNever } from '../shared/assertNever.ts'
import { MINUTE_MS } from '../shared/duration.ts'
import type { Decision, EntryCause, TurnAwayReason } from '../workflow/decision.ts'
import type { Definition } from '../workflow/definition.ts'
import { isDeliveryNote, type LedgerEntry } from '../workflow/ledgerEntry.ts'
import { allSteps, listsOf } from '../workflow/lists.ts'
import { TOO_OLD_DAYS } from '../workflow/start.ts'
import { isBranching, isMessage } from '../workflow/steps.ts'
import { isPerLine } from '../workflow/trigger.ts'
import type { WordContext } from './conditions.ts'
import { exclusionRule } from './exclusionRule.ts'
import { deliveryWords } from './deliveryNotes.ts'
import { observationWords } from './observations.ts'
import type { MessageCap } from '../events/facts.ts'
import { dateWords, durationWords, plural, spanWords } from './quantities.ts'
import { wayName } from './wayNames.ts'
import { markWords, stepName } from './steps.ts'
import { EVENT_WORDS } from './eventWords.ts'

/** A ledger entry as a sentence: "left before *Care guide*: order refunded on 16 April, 09:12". */
export function entryWords(
  entry: LedgerEntry,
  definition: Definition,
  context: WordContext,
): string {
  if (isDeliveryNote(entry)) return deliveryWords(entry, definition, context)
  switch (entry.kind) {
    case 'entered':
      return `Entered${causeWords(entry.cause, context)}${lateWords(entry.lateMs)}`
    case 'turnedAway':
      return `Turned away${causeWords(entry.cause, context)}: ${turnAwayWords(entry.reason, definition, context)}`
    case 'left': {
      const why = exclusionWords(entry.exclusion, entry.observed, definition, context)
      return `Left before “${stepName(definition, entry.step)}”: ${why}`
    }
    case 'skipped':
      return `Skipped “${stepName(definition, entry.step)}”: ${skipWords(entry, definition, context)}`
    case 'ended':
      return entry.step === null ? 'Reached the end' : 'Ended here'
    case 'waits':
    case 'came':
    case 'datePast':
      return waitWords(entry, context)
    case 'calls':
    case 'issues':
    case 'marks':
    case 'sends':
    case 'tookArm':
    case 'tookBranch':
      return wayWords(entry, definition, context)
  }
}

type Kinds<Kind extends Decision['kind']> = Extract<Decision, { kind: Kind }>

function waitWords(entry: Kinds<'waits' | 'came' | 'datePast'>, context: WordContext): string {
  switch (entry.kind) {
    case 'waits': {
      const until = dateWords(entry.until, context.zone)
      switch (entry.reason.code) {
        case 'event':
          return `Waits for “${EVENT_WORDS[entry.reason.event].label}” until ${until}`
        case 'gap':
          return `Held until ${until}: ${gapWords(entry.reason, context)}`
        case 'cap':
          return `Held until ${until}: ${capWords(entry.reason, context)}`
        case 'quiet':
          return `Held until ${until}: somebody asked for quiet`
        case 'quietHours':
          return `Held until ${until}: quiet hours`
        case 'date':
        case 'time':
          return `Waits until ${until}`
      }
    }
    case 'came': {
      const { label } = EVENT_WORDS[entry.event]
      if (entry.cameAt === null) return `“${label}” did not come in time`
      return `“${label}” came on ${dateWords(entry.cameAt, context.zone)}`
    }
    case 'datePast': {
      const date =
        entry.date === null
          ? 'The date is not known'
          : `${dateWords(entry.date, context.zone)} is past`
      return `${date}: ${PAST_WORDS[entry.did]}`
    }
    default:
      return assertNever(entry, 'decision')
  }
}

const PAST_WORDS = { goOn: 'goes on', skipNext: 'passes over the next message', leave: 'leaves' }

function wayWords(
  entry: Kinds<'tookBranch' | 'tookArm' | 'sends' | 'issues' | 'calls' | 'marks'>,
  definition: Definition,
  context: WordContext,
): string {
  switch (entry.kind) {
    case 'tookBranch':
      return `Took the path “${wayNameIn(definition, entry.step, entry.branch)}”${because(entry.observed, context)}`
    case 'tookArm': {
      const name = wayNameIn(definition, entry.step, entry.arm)
      return entry.holdout ? `Drawn for “${name}”, which gets nothing` : `Drawn for “${name}”`
    }
    case 'sends':
      return `Decided to send “${stepName(definition, entry.step)}”`
    case 'issues': {
      const until =
        entry.expiresAt === null ? '' : `, good until ${dateWords(entry.expiresAt, context.zone)}`
      return `Issued a coupon, “${stepName(definition, entry.step)}”${until}`
    }
    case 'calls':
      return `Decided to call “${stepName(definition, entry.step)}”`
    case 'marks':
      return markWords(definition, entry.step)
    default:
      return assertNever(entry, 'decision')
  }
}

/** The name of one way of a branching step. */
function wayNameIn(definition: Definition, step: string, branch: string | null): string {
  const branching = allSteps(definition.steps).find((one) => one.key === step)
  if (!branching || !isBranching(branching)) return branch ?? 'Everyone else'
  const list = listsOf(branching).find((one) => one.branch === branch)
  return list ? wayName(branching, list) : (branch ?? 'Everyone else')
}

function causeWords(cause: EntryCause, context: WordContext): string {
  switch (cause.by) {
    case 'event':
      return ''
    case 'date':
      return ` (${findField(cause.field)?.label ?? cause.field}: ${dateWords(cause.date, context.zone)}${cause.reorder ? `, ${reckonedWords(cause.reorder)}` : ''})`
    case 'hand':
      if (cause.already) return `, let in by ${cause.person} because they qualified already`
      return ` by hand, by ${cause.person}${cause.overridden ? ', without regard to the entry rule' : ''}`
    default:
      return assertNever(cause, 'cause')
  }
}

/** Seconds are no news; what came later than a minute explains why waits are shorter. */
function lateWords(lateMs = 0): string {
  return lateMs < MINUTE_MS ? '' : `, ${spanWords(lateMs)} late`
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
      // Without a line that it holds for there is none whose facts would say why.
      if (definition.trigger.kind === 'event' && isPerLine(definition.trigger)) {
        return 'the trigger filter holds for no line of the order'
      }
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

function skipWords(
  { reason, step }: Kinds<'skipped'>,
  definition: Definition,
  context: WordContext,
): string {
  switch (reason.code) {
    case 'exclusion':
      return exclusionWords(reason.exclusion, reason.observed, definition, context)
    case 'onlyIf':
      return `its own condition does not hold${because(reason.observed, context)}`
    case 'gap':
      return gapWords(reason, context)
    case 'cap':
      return capWords(reason, context)
    case 'quiet':
      return `somebody asked for quiet until ${dateWords(reason.until, context.zone)}`
    case 'suppressed':
      return SUPPRESSION[reason.why]
    case 'noConsent':
      return reason.known ? 'said no to marketing messages' : 'never agreed to marketing messages'
    case 'noAddress': {
      const skipped = allSteps(definition.steps).find(({ key }) => key === step)
      const channel = skipped && isMessage(skipped) ? skipped.kind : 'email'
      return `no ${CHANNELS[channel].address} known`
    }
    case 'alreadySent':
    case 'holdout':
    case 'datePast':
    case 'tooLate':
      return PLAIN_SKIPS[reason.code]
  }
}

/** Which message went first at the same moment: its workflow has the higher priority. */
function behindWords(behind: string | undefined, context: WordContext): string {
  if (behind === undefined) return ''
  const name = context.titleOf?.('workflows', behind)
  return `a message of ${name ? `“${name}”` : 'another workflow'} went first, by its priority; `
}

function gapWords(
  { lastAt, behind }: { lastAt: number; behind?: string },
  context: WordContext,
): string {
  return behind === undefined
    ? `another message left on ${dateWords(lastAt, context.zone)}`
    : behindWords(behind, context).replace(/; $/, '')
}

function capWords(
  { cap, behind }: { cap: MessageCap; behind?: string },
  context: WordContext,
): string {
  const way = cap.channel === 'all' ? '' : cap.channel === 'email' ? ' by email' : ' by text message'
  return `${behindWords(behind, context)}they have had ${plural(cap.most, 'marketing message')}${way} in ${plural(cap.days, 'day')}, as many as the shop allows`
} // prettier-ignore

const PLAIN_SKIPS = {
  datePast: 'the date before it was past',
  tooLate: 'too late: the workflow had been paused',
  alreadySent: 'sent already, in an earlier version',
  holdout: 'in the shop’s holdout, who get no marketing so that it is seen what it causes',
} as const

/** The facts that made an exclusion hold; its own words where no single fact did. */
function exclusionWords(
  key: string,
  observed: Observation[],
  definition: Definition,
  context: WordContext,
): string {
  const happened = observed.filter((one) => one.kind === 'history' && one.count > 0)
  if (happened.length > 0) return happened.map((one) => observationWords(one, context)).join(', ')
  return `${exclusionRule(key, definition, context)}${because(observed, context)}`
}

function because(observed: readonly Observation[], context: WordContext): string {
  const words = [...new Set(observed.map((one) => observationWords(one, context)))]
  return words.length === 0 ? '' : ` (${words.join('; ')})`
}
