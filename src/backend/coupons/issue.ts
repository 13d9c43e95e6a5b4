import { randomInt } from 'node:crypto'
import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { Instant } from '../../core/shared/time.ts'
import type { CouponStep } from '../../core/workflow/steps.ts'
import { recordsOf, rowsOf, type Db } from '../platform/db.ts'

/** Without letters and digits that are taken for one another. */
const ALPHABET = 'ABCDEFGHJKMNPQRSTUVWXYZ23456789'
const MOST_TRIES = 5

/** A code that a run is to have. */
export interface Issue {
  runId: number
  step: CouponStep
  workflowId: string
  customerId: string
  expiresAt: Instant | null
}

/** A code that a run has. */
export interface Issued {
  runId: number
  step: string
  code: string
}

/**
 * Issues codes, one for each run and step however often it is tried. Throws RangeError when a pattern
 * has no codes left.
 */
export async function issueCodes(
  db: Db,
  shopId: string,
  at: Instant,
  issues: readonly Issue[],
): Promise<Issued[]> {
  let missing = issues
  const issued: Issued[] = []
  for (let tries = 0; missing.length > 0; tries += 1) {
    if (tries === MOST_TRIES) {
      throw new RangeError(`The pattern ${missing[0]?.step.pattern} has hardly any codes left`)
    }
    issued.push(...(await insertCodes(db, shopId, at, missing)))
    const have = new Set(issued.map(({ runId, step }) => keyOf(runId, step)))
    missing = missing.filter(({ runId, step }) => !have.has(keyOf(runId, step.key)))
  }
  return issued
}

const keyOf = (runId: number, step: string): string => `${runId} ${step}`

function termsOf({ minimum, categories, maxUses, pattern }: CouponStep): object {
  const most = maxUses ?? (isShared(pattern) ? null : 1)
  return { ...(minimum && { minimum }), ...(categories && { categories }), maxUses: most }
}

const isShared = (pattern: string): boolean => !pattern.includes('#')

/** Codes that were inserted now or before. One that is taken already is left out. */
async function insertCodes(
  db: Db,
  shopId: string,
  at: Instant,
  issues: readonly Issue[],
): Promise<Issued[]> {
  const records = issues.map(({ step, ...issue }) => ({
    ...issue,
    step: step.key,
    discount: step.discount,
    terms: termsOf(step),
    code: codeFrom(step.pattern),
    shared: isShared(step.pattern),
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
  return rowsOf(
    db,
    z.object({ runId: z.int(), step: z.string(), code: z.string() }),
    sql`select c.run_id as "runId", c.step, c.code from coupons c
    join jsonb_to_recordset(${recordsOf(records)}) as i("runId" bigint, step text)
      on c.run_id = i."runId" and c.step = i.step
    where c.shop_id = ${shopId}`,
  )
}

function codeFrom(pattern: string): string {
  return pattern.replaceAll('#', () => ALPHABET[randomInt(ALPHABET.length)] ?? '#')
}

/** Takes the name of somebody who is erased off their codes, which go on to be counted. */
export async function renameCoupons(
  db: Db,
  shopId: string,
  customerId: string,
  renamed: (id: SQL) => SQL,
): Promise<void> {
  await db.execute(sql`update coupons set customer_id = ${renamed(sql`customer_id`)}
    where shop_id = ${shopId} and customer_id = ${customerId}`)
}
