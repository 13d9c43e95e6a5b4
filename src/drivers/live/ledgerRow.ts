import type { Program } from '../../core/workflow/compile.ts'
import type { LedgerEntry } from '../../core/words/decisions.ts'

/** What a ledger row says besides the entry itself. */
export interface LedgerSubject {
  workflowId: string
  version: number
  runId: number | null
  customerId: string
  subjectId: string | null
}

export interface LedgerRow extends LedgerSubject {
  entry: LedgerEntry
}

/** A ledger row with the program that its decision follows from. */
export interface DecidedRow extends LedgerRow {
  program: Program
}
