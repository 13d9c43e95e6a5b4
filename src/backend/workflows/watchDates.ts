import { sql } from 'drizzle-orm'
import type { Instant } from '../../core/shared/time.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import type { Db } from '../platform/db.ts'

/**
 * Has the date trigger of a workflow looked at from now on; moments before now are not made up for,
 * since nobody could enter then, but for those after `datesFrom`, whom somebody lets in knowingly. Forgets it when the trigger is none.
 */
export async function watchDates(
  db: Db,
  shopId: string,
  workflowId: string,
  {
    now,
    definition,
    datesFrom = now,
  }: { now: Instant; definition: Definition; datesFrom?: Instant | undefined },
): Promise<void> {
  if (definition.trigger.kind !== 'date') {
    await db.execute(sql`
      delete from date_sweeps where shop_id = ${shopId} and workflow_id = ${workflowId}`)
    return
  }
  // The first look is at once: it finds nothing new, and works out when the next one is.
  await db.execute(sql`
    insert into date_sweeps (shop_id, workflow_id, swept_until, next_at)
    values (${shopId}, ${workflowId}, ${datesFrom}, ${now})
    on conflict (shop_id, workflow_id) do update set swept_until = ${datesFrom}, next_at = ${now}`)
}
