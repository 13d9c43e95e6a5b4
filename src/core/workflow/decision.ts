import type { Observation } from '../conditions/compile.ts'
import type { Instant } from '../shared/time.ts'

/** Why a message was not sent though its moment had come. */
export type SkipReason =
  | { code: 'exclusion'; exclusion: string; observed: Observation[] }
  | { code: 'onlyIf'; observed: Observation[] }
  | { code: 'noAddress' }
  | { code: 'suppressed'; why: 'unsubscribed' | 'bounced' | 'complained' }
  | { code: 'noConsent'; known: boolean }

/** Why an event that matched a trigger started no run. */
export type TurnAwayReason =
  /** It arrived so long after it happened that acting on it would bewilder people. */
  | { code: 'tooOld'; happenedAt: Instant }
  | { code: 'filter'; observed: Observation[] }
  | { code: 'enteredBefore'; lastEnteredAt: Instant }
  | { code: 'enteredTooRecently'; lastEnteredAt: Instant; againAt: Instant }
  | { code: 'alreadyInProgress' }
  | { code: 'exclusion'; exclusion: string; observed: Observation[] }

/** One thing the interpreter decided, with the facts it rests on. Words are made elsewhere. */
export type Decision =
  | { kind: 'entered'; observed: Observation[] }
  | { kind: 'turnedAway'; reason: TurnAwayReason }
  | { kind: 'waits'; step: string; until: Instant }
  | { kind: 'tookBranch'; step: string; branch: string | null; observed: Observation[] }
  | { kind: 'sends'; step: string; observed: Observation[] }
  | { kind: 'skipped'; step: string; reason: SkipReason }
  | { kind: 'left'; step: string; exclusion: string; observed: Observation[] }
  | { kind: 'ended'; step: string | null }
