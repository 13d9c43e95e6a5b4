import type { Instant } from '../../core/shared/time.ts'
import type { Db } from '../platform/db.ts'
import { workflowStates } from './tables.ts'

/** Notes down what a workflow has become, in the transaction that makes it so. */
export async function noteState(
  db: Db,
  shopId: string,
  workflowId: string,
  { at, state }: { at: Instant; state: 'live' | 'paused' | 'retired' },
): Promise<void> {
  await db.insert(workflowStates).values({ shopId, workflowId, at, state })
}
