import { pgTable, text } from 'drizzle-orm/pg-core'
import { instant } from './columns.ts'

/**
 * The worker processes. Each holds an advisory lock on `lock_key` for as long as it lives, which
 * PostgreSQL lets go of the moment the process dies: no heartbeat, no time-out.
 */
export const workers = pgTable('workers', {
  id: text('id').primaryKey(),
  lockKey: instant('lock_key').notNull().generatedAlwaysAsIdentity(),
  /** What the job queue knows it by. */
  poolId: text('pool_id'),
})
