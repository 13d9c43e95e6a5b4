import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { CUSTOMER_CHANNELS } from '../../core/channels/catalogue.ts'
import type { Instant } from '../../core/shared/time.ts'
import { arrayOf, rowsOf, type Db } from '../platform/db.ts'

const besideRow = z.object({
  workflowId: z.string(),
  name: z.string(),
  people: z.int(),
  messages: z.int(),
})

/** What other workflows have sent to some people since a moment, those who reached most of them first. */
export function sentBeside(
  db: Db,
  shopId: string,
  asked: { workflowId: string; since: Instant; customerIds: readonly string[] },
): Promise<z.infer<typeof besideRow>[]> {
  const { workflowId, since, customerIds } = asked
  return rowsOf(
    db,
    besideRow,
    sql`select m.workflow_id as "workflowId", coalesce(nullif(w.draft->>'name', ''), 'Unnamed workflow') as name,
      count(distinct m.customer_id) as people, count(*) as messages
    from messages m join workflows w on w.shop_id = m.shop_id and w.id = m.workflow_id
    where m.shop_id = ${shopId} and m.customer_id = any(${arrayOf(customerIds, 'text')})
      and m.status = 'sent' and m.sent_at > ${since} and m.workflow_id <> ${workflowId}
      and m.channel = any(${arrayOf(CUSTOMER_CHANNELS, 'text')})
    group by 1, 2 order by people desc, messages desc, name`,
  )
}
