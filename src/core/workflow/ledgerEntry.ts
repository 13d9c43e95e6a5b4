import type { Instant } from '../shared/time.ts'
import type { Decision } from './decision.ts'

/** What happened after a decision; recorded by the driver that carries it out. */
export type DeliveryNote =
  | { kind: 'sent'; step: string; to: string }
  | { kind: 'failed'; step: string; error: string }
  | { kind: 'retries'; step: string; error: string; attempt: number }
  | { kind: 'unsure'; step: string; resent: boolean }
  /** Held at the last moment: quiet hours had begun before it could leave, or quiet was `asked` for. */
  | { kind: 'held'; step: string; until: Instant; asked?: true }
  /** Somebody had it tried again, or gave it up. */
  | { kind: 'repaired'; step: string; person: string; did: 'tryAgain' | 'giveUp' }
  /** The interpreter could not go on; kept for repair. */
  | { kind: 'stuck'; step: string | null; error: string }
  /** What somebody did to the whole workflow, as far as this run is concerned. */
  | { kind: 'moved'; step: string | null; from: number; to: number; person: string }
  | { kind: 'retired'; step: string | null; person: string }
  /** What somebody did to this run alone: ended it, or ended the wait it was in. */
  | { kind: 'takenOut'; step: string | null; person: string }
  | { kind: 'hurried'; step: string; person: string }

/** What the ledger keeps of a run: what was decided, and what came of it. */
export type LedgerEntry = Decision | DeliveryNote

const NOTE_KINDS: Readonly<Record<DeliveryNote['kind'], true>> = {
  sent: true,
  failed: true,
  retries: true,
  unsure: true,
  held: true,
  repaired: true,
  stuck: true,
  moved: true,
  retired: true,
  takenOut: true,
  hurried: true,
}

/** True for what happened after a decision. */
export function isDeliveryNote(entry: { kind: string }): entry is DeliveryNote {
  return Object.hasOwn(NOTE_KINDS, entry.kind)
}

/** The code of the reason that an entry names; null for one that names none. */
export const reasonOf = (entry: LedgerEntry): string | null =>
  'reason' in entry ? entry.reason.code : null
