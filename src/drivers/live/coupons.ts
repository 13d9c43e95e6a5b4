import { issueCodes, type Issue } from '../../backend/coupons/index.ts'
import type { Db } from '../../backend/platform/db.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { DecidedRow } from './decidedRow.ts'

/** Issues a code for each entry that decides to. Returns the rows with their codes. */
export async function issueCoupons(
  db: Db,
  shopId: string,
  at: Instant,
  rows: readonly DecidedRow[],
): Promise<DecidedRow[]> {
  const issues = rows.flatMap(issueOf)
  if (issues.length === 0) return [...rows]
  const issued = await issueCodes(db, shopId, at, issues)
  const codes = new Map(issued.map(({ runId, step, code }) => [keyOf(runId, step), code]))
  return rows.map((row) => {
    const { entry } = row
    if (entry.kind !== 'issues') return row
    const code = codes.get(keyOf(row.runId ?? 0, entry.step))
    return code === undefined ? row : { ...row, entry: { ...entry, code } }
  })
}

const keyOf = (runId: number, step: string): string => `${runId} ${step}`

function issueOf({ program, entry, runId, workflowId, customerId }: DecidedRow): Issue[] {
  if (entry.kind !== 'issues' || runId === null) return []
  const instruction = program.instructions.get(entry.step)
  if (instruction?.kind !== 'action' || instruction.step.kind !== 'coupon') return []
  const { expiresAt } = entry
  return [{ runId, step: instruction.step, workflowId, customerId, expiresAt }]
}
