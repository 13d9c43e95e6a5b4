import type { LedgerRow } from '../../backend/runs/index.ts'
import type { Program } from '../../core/workflow/compile.ts'

/** A ledger row with the program that its decision follows from. */
export interface DecidedRow extends LedgerRow {
  program: Program
}
