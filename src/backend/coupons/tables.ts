import { sql } from 'drizzle-orm'
import { boolean, index, jsonb, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import type { CouponStep } from '../../core/workflow/steps.ts'
import { instant, shopId } from '../platform/columns.ts'

/** Codes that were issued, one for each run and coupon step however often it is tried. */
export const coupons = pgTable(
  'coupons',
  {
    shopId: shopId(),
    code: text('code').notNull(),
    runId: instant('run_id').notNull(),
    workflowId: text('workflow_id').notNull(),
    step: text('step').notNull(),
    customerId: text('customer_id').notNull(),
    discount: jsonb('discount').$type<CouponStep['discount']>().notNull(),
    /** What it counts for: a least amount, categories, how often. */
    terms: jsonb('terms').notNull().default({}),
    /** All who reach the step have the same. */
    shared: boolean('shared').notNull().default(false),
    issuedAt: instant('issued_at').notNull(),
    expiresAt: instant('expires_at'),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.runId, table.step] }),
    uniqueIndex('coupons_own_code')
      .on(table.shopId, table.code)
      .where(sql`not shared`),
    index('coupons_code').on(table.shopId, table.code),
    index('coupons_issued').on(table.shopId, table.issuedAt),
  ],
)
