import type { Instant } from '../../core/shared/time.ts'
import { isDeliveryNote, type LedgerEntry } from '../../core/workflow/ledgerEntry.ts'

/** One decision, reduced to what every interpreter must agree on. */
export interface Trace {
  at: Instant
  /** What was decided, at which step, and with what outcome. */
  what: string
}

/** A ledger entry as a trace, or null for what is no decision, or only says that time passes. */
export function traceOf(at: Instant, entry: LedgerEntry): Trace | null {
  const what = whatOf(entry)
  return what === null ? null : { at, what }
}

function whatOf(entry: LedgerEntry): string | null {
  if (isDeliveryNote(entry)) return null
  switch (entry.kind) {
    case 'entered':
      return 'entered'
    case 'turnedAway':
      return `turnedAway ${entry.reason.code}`
    case 'tookBranch':
      return `branch ${entry.step} ${entry.branch ?? 'else'}`
    case 'tookArm':
      return `arm ${entry.step} ${entry.arm}`
    case 'came':
      return `came ${entry.step} ${entry.cameAt === null ? 'no' : 'yes'}`
    case 'datePast':
      return `datePast ${entry.step} ${entry.did}`
    case 'skipped':
      return `skipped ${entry.step} ${entry.reason.code}`
    case 'left':
      return `left ${entry.step} ${entry.exclusion}`
    case 'sends':
    case 'issues':
    case 'marks':
      return `${entry.kind} ${entry.step}`
    case 'ended':
      return `ended ${entry.step ?? ''}`.trimEnd()
    case 'calls':
    case 'waits':
      return null
  }
}
