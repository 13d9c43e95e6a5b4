import type { EventType } from '../events/eventTypes.ts'
import type { TimeOfDay, Weekday } from '../shared/localTime.ts'
import type { Instant } from '../shared/time.ts'
import type { Program } from './compile.ts'

/** Where one run stands. A value: every step of the interpreter returns a new one. */
export interface RunState {
  enteredAt: Instant
  status: 'inProgress' | 'ended'
  /** The step the run is at; null once it has ended. */
  step: string | null
  /** When to look at the run again; null when it is not waiting. */
  dueAt: Instant | null
  /**
   * The moment the next wait counts from: the triggering event's own time at first, then the end of
   * the last wait, then the moment of the last message.
   */
  since: Instant
  /**
   * What else may wake it before it is due: events of a type, or any news of the thing it is about,
   * whose date it waits for.
   */
  awaits: EventType | 'subject' | null
  /** A date was past: the next message is passed over. */
  skipNext: boolean
  /** Messages whose moment was before this are passed over: chosen when resuming after a pause. */
  skipBefore: Instant | null
  /** The hours that the wait behind it permits; a message that is held back leaves in them, too. */
  hours: LocalHours | null
  /** Coupon steps whose code is issued when the first message that shows it leaves. */
  owed: readonly string[]
}

/** A local hour, on permitted weekdays or on any. */
export interface LocalHours {
  at: TimeOfDay
  weekdays?: readonly Weekday[] | undefined
}

/** A run that is about to take its first step. */
export function freshRun(program: Program, enteredAt: Instant): RunState {
  return {
    enteredAt,
    status: 'inProgress',
    step: program.first,
    dueAt: null,
    since: enteredAt,
    awaits: null,
    skipNext: false,
    skipBefore: null,
    hours: null,
    owed: [],
  }
}
