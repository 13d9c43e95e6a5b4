import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { AttentionItem } from '../../contract/attention.ts'
import { stepName } from '../../core/words/steps.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { document, rowsOf, type Db } from '../platform/db.ts'
import { fullName } from './ledgerPage.ts'

const MOST = 200

const attentionRow = z.object({
  kind: document<AttentionItem['kind']>(),
  id: z.number(),
  runId: z.number(),
  workflowId: z.string(),
  definition: document<Definition>(),
  step: z.string().nullable(),
  customerId: z.string(),
  firstName: z.string().nullable(),
  lastName: z.string().nullable(),
  email: z.string().nullable(),
  to: z.string().nullable(),
  error: z.string().nullable(),
  at: z.number(),
})

/** What a person has to look at, the newest first: failed and unsure messages, runs that are stuck. */
export async function attentionList(db: Db, shopId: string): Promise<AttentionItem[]> {
  const rows = await rowsOf(
    db,
    attentionRow,
    sql`with open as (
      select m.status as kind, m.id, m.run_id, m.workflow_id, m.version, m.step, m.customer_id,
        m.to_address as "to", m.last_error as error, m.decided_at as at
      from messages m where m.shop_id = ${shopId} and m.status in ('failed', 'unsure')
      union all
      select 'stuck', r.id, r.id, r.workflow_id, r.version, r.step, r.customer_id, null,
        (select l.entry->>'error' from ledger l where l.shop_id = r.shop_id and l.run_id = r.id
          and l.kind = 'stuck' order by l.id desc limit 1), r.since
      from runs r join workflows w on w.shop_id = r.shop_id and w.id = r.workflow_id
      where r.shop_id = ${shopId} and r.status = 'inProgress' and r.due_at is null
        and r.parked_until is null and w.state <> 'paused')
    select o.kind, o.id, o.run_id as "runId", o.workflow_id as "workflowId", v.definition, o.step,
      o.customer_id as "customerId", c.first_name as "firstName", c.last_name as "lastName", c.email,
      o."to", o.error, o.at
    from open o
    join workflow_versions v on v.shop_id = ${shopId} and v.workflow_id = o.workflow_id
      and v.version = o.version
    left join customers c on c.shop_id = ${shopId} and c.id = o.customer_id
    order by o.at desc, o.id desc limit ${MOST}`,
  )
  return rows.map(({ definition, workflowId, customerId, firstName, lastName, email, ...row }) => ({
    ...row,
    workflow: { id: workflowId, name: definition.name },
    step: row.step === null ? '' : stepName(definition, row.step),
    customer: { id: customerId, name: fullName(firstName, lastName), email },
  }))
}
