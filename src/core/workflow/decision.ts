import type { ExpectedReorder } from '../events/reorder.ts'
import type { Suppression } from '../channels/catalogue.ts'
import type { Observation } from '../conditions/observation.ts'
import type { EventType } from '../events/eventTypes.ts'
import type { CustomerFacts } from '../events/facts.ts'
import type { Instant } from '../shared/time.ts'
import type { Capped } from './caps.ts'
import type { LocalHours } from './runState.ts'

/** Why a step was passed over though its moment had come. */
export type SkipReason =
  | { code: 'exclusion'; exclusion: string; observed: Observation[] }
  | { code: 'onlyIf'; observed: Observation[] }
  /** A date it was to be sent by was past already. */
  | { code: 'datePast' }
  /** Overdue by more than was chosen when the workflow was resumed. */
  | { code: 'tooLate' }
  | { code: 'noAddress' }
  | { code: 'suppressed'; why: Suppression }
  | { code: 'noConsent'; known: boolean }
  | { code: 'alreadySent' }
  | { code: 'gap'; lastAt: Instant; opensAt: Instant; behind?: string }
  /** They have had as much marketing as the shop allows in such a time. */
  | ({ code: 'cap'; behind?: string } & Capped)
  /** Somebody of the shop asked for quiet. */
  | { code: 'quiet'; until: Instant }
  /** Drawn into the holdout of the whole shop. */
  | { code: 'holdout' }

/** Why an event that matched a trigger started no run. */
export type TurnAwayReason =
  /** It arrived so long after it happened that acting on it would bewilder people. */
  | { code: 'tooOld'; happenedAt: Instant }
  | { code: 'filter'; observed: Observation[] }
  | { code: 'enteredBefore'; lastEnteredAt: Instant }
  | { code: 'enteredTooRecently'; lastEnteredAt: Instant; againAt: Instant }
  | { code: 'alreadyInProgress' }
  | { code: 'exclusion'; exclusion: string; observed: Observation[] }

/** What put somebody into a workflow. */
export type EntryCause =
  | { by: 'event' }
  /** The date that was near, and how it is called; for an expected reorder, what it was reckoned from. */
  | { by: 'date'; field: string; date: Instant; reorder?: ExpectedReorder }
  /** `already`: let in with those who qualified before it went live. */
  | { by: 'hand'; person: string; overridden: boolean; already?: true }

/** What a run waits for. */
export type WaitReason =
  | { code: 'time' }
  /** The date itself, from which the moment is reckoned; null for a fixed one. */
  | { code: 'date'; date: Instant | null }
  | { code: 'event'; event: EventType }
  /** `behind`: the workflow whose message went first at this very moment, by its priority. */
  | { code: 'gap'; lastAt: Instant; behind?: string }
  | ({ code: 'cap'; behind?: string } & Capped)
  | { code: 'quiet' }
  | { code: 'quietHours' }

/** What the gates of a message saw, beside conditions. */
export interface GateFacts {
  hasAddress: boolean
  suppressed: Suppression | null
  consent: boolean | null
  /** When the last marketing message was decided; null for none, and for messages that do not ask. */
  lastMarketingAt: Instant | null
  /** The workflow that it was of, where it was decided at this very moment. */
  behind?: string
  /** Until when somebody asked for quiet; left out where nobody did. */
  quietUntil?: Instant
  /** The cap that is reached; left out where none is. */
  capped?: Capped
  sentBefore: boolean
  /** Marketing, to somebody in the holdout of the whole shop. */
  heldOut: boolean
  zone: string
}

/**
 * What a customer was marked with when a message was decided, for workflows that mark. Asked again
 * at the hand-over, the message goes by these: what its own run does after it must not undo it.
 */
export type CustomerMarks = Pick<CustomerFacts, 'tags' | 'lists' | 'properties'>

/** One thing the interpreter decided, with the facts it rests on. Words are made elsewhere. */
export type Decision =
  /**
   * `observed`: what the trigger filter saw, then the exclusions that were asked. `lateMs`: how long
   * after its own time the occasion was looked at, if not at once; the run counts from the former.
   */
  | { kind: 'entered'; cause: EntryCause; observed: Observation[]; lateMs?: number }
  /** `before`: what was asked and let them through before the reason was found. */
  | { kind: 'turnedAway'; reason: TurnAwayReason; cause: EntryCause; before: Observation[] }
  /** For a message that is held back: what was asked before. */
  | {
      kind: 'waits'
      step: string
      until: Instant
      reason: WaitReason
      zone: string
      observed?: Observation[]
      gates?: GateFacts
    }
  /** An awaited event came, or its time ran out. */
  | { kind: 'came'; step: string; event: EventType; cameAt: Instant | null; zone: string }
  /** A date was past or unknown when a run came to wait for it. */
  | {
      kind: 'datePast'
      step: string
      date: Instant | null
      moment: Instant | null
      zone: string
      did: 'goOn' | 'skipNext' | 'leave'
    }
  | { kind: 'tookBranch'; step: string; branch: string | null; observed: Observation[] }
  /** `roll` is from 0 up to 1 and depends on the lottery and the customer alone. */
  | { kind: 'tookArm'; step: string; arm: string; holdout: boolean; roll: number }
  | {
      kind: 'sends'
      step: string
      observed: Observation[]
      gates: GateFacts
      /** The hours its wait permits, for marketing: should it be held back, it leaves in them. */
      hours?: LocalHours
      marks?: CustomerMarks
    }
  /**
   * `code` is drawn by the driver that carries it out. `message`: the one it was issued for, whose gates
   * had let it pass.
   */
  | {
      kind: 'issues'
      step: string
      expiresAt: Instant | null
      zone: string
      observed: Observation[]
      message?: string
      gates?: GateFacts
      code?: string
    }
  | { kind: 'calls'; step: string; observed: Observation[]; marks?: CustomerMarks }
  | { kind: 'marks'; step: string }
  /** `before`: what was asked and did not hold before the reason was found. */
  | { kind: 'skipped'; step: string; reason: SkipReason; before: Observation[]; gates?: GateFacts }
  | {
      kind: 'left'
      step: string
      exclusion: string
      observed: Observation[]
      before: Observation[]
    }
  | { kind: 'ended'; step: string | null }
