import { randomInt } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { recordsOf, rowsOf, type Db } from '../../backend/platform/db.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { CouponStep } from '../../core/workflow/steps.ts'
import type { DecidedRow } from './ledgerRow.ts'

/** Without letters and digits that are taken for one another. */
const ALPHABET = 'ABCDEFGHJKMNPQRSTUVWXYZ23456789'
const MOST_TRIES = 5

interface Issue {
  runId: number
  workflowId: string
  step: string
  customerId: string
  discount: CouponStep['discount']
  terms: object
  pattern: string
  expiresAt: Instant | null
}

/**
 * Issues a code for each entry that decides to, once per run and step however often it is tried.
 * Returns the rows with their codes. Throws RangeError when a pattern has no codes left.
 */
export async function issueCoupons(
  db: Db,
  shopId: string,
  at: Instant,
  rows: readonly DecidedRow[],
): Promise<DecidedRow[]> {
  let missing = rows.flatMap(issueOf)
  if (missing.length === 0) return [...rows]
  const codes = new Map<string, string>()
  for (let tries = 0; missing.length > 0; tries += 1) {
    if (tries === MOST_TRIES) {
      throw new RangeError(`The pattern ${missing[0]?.pattern} has hardly any codes left`)
    }
    for (const { runId, step, code } of await insertCodes(db, shopId, at, missing)) {
      codes.set(keyOf(runId, step), code)
    }
    missing = missing.filter(({ runId, step }) => !codes.has(keyOf(runId, step)))
  }
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
  const { discount, pattern } = instruction.step
  const terms = termsOf(instruction.step)
  const { step, expiresAt } = entry
  return [{ runId, workflowId, step, customerId, discount, terms, pattern, expiresAt }]
}

function termsOf({ minimum, categories, maxUses, pattern }: CouponStep): object {
  const most = maxUses ?? (isShared(pattern) ? null : 1)
  return { ...(minimum && { minimum }), ...(categories && { categories }), maxUses: most }
}

const isShared = (pattern: string): boolean => !pattern.includes('#')

/** Codes that were inserted now or before. One that is taken already is left out. */
async function insertCodes(db: Db, shopId: string, at: Instant, issues: readonly Issue[]) {
  const records = issues.map((issue) => ({
    ...issue,
    code: codeFrom(issue.pattern),
    shared: isShared(issue.pattern),
  }))
  await db.execute(sql`
    insert into coupons (shop_id, code, run_id, workflow_id, step, customer_id, discount, terms,
      shared, issued_at, expires_at)
    select ${shopId}, c.code, c."runId", c."workflowId", c.step, c."customerId", c.discount, c.terms,
      c.shared, ${at}, c."expiresAt"
    from jsonb_to_recordset(${recordsOf(records)}) as c(code text, "runId" bigint,
      "workflowId" text, step text, "customerId" text, discount jsonb, terms jsonb, shared boolean,
      "expiresAt" bigint)
    on conflict do nothing`)
  return rowsOf<{ runId: number; step: string; code: string }>(
    db,
    sql`select c.run_id as "runId", c.step, c.code from coupons c
    join jsonb_to_recordset(${recordsOf(records)}) as i("runId" bigint, step text)
      on c.run_id = i."runId" and c.step = i.step
    where c.shop_id = ${shopId}`,
  )
}

function codeFrom(pattern: string): string {
  return pattern.replaceAll('#', () => ALPHABET[randomInt(ALPHABET.length)] ?? '#')
}
