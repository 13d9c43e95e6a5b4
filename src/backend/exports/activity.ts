import { sql } from 'drizzle-orm'
import type { Db } from '../platform/db.ts'
import type { Shop } from '../shop/index.ts'
import { PAGE, pageOf, written, type Page, type Place, type Read } from './page.ts'

const readMessages = (db: Db, { id: shopId }: Shop, after: Place | null): Promise<Page> =>
  pageOf(
    db,
    sql`select m.id as key0, m.id, m.workflow_id as "workflowId", v.definition->>'name' as workflow, m.version, m.step, m.run_id as "runId",
      m.customer_id as "customerId", m.channel, m.marketing, m.status, m.to_address as "to", m.subject, m.decided_at as "decidedAt",
      m.sent_at as "sentAt", m.held_until as "heldUntil", m.opened_at as "openedAt", m.clicked_at as "clickedAt", m.last_error as "lastError"
    from messages m left join workflow_versions v on v.shop_id = m.shop_id and v.workflow_id = m.workflow_id and v.version = m.version
    where m.shop_id = ${shopId} and m.id > ${after?.[0] ?? 0} order by m.id limit ${PAGE}`,
    (row) => written(row, ['decidedAt', 'sentAt', 'heldUntil', 'openedAt', 'clickedAt']),
  ) // prettier-ignore

const readCoupons = (db: Db, { id: shopId }: Shop, after: Place | null): Promise<Page> =>
  pageOf(
    db,
    sql`select k.run_id as key0, k.step as key1, k.code, k.workflow_id as "workflowId", k.step, k.run_id as "runId", k.customer_id as "customerId",
      c.email, k.discount, k.terms, k.shared, k.issued_at as "issuedAt", k.expires_at as "expiresAt"
    from coupons k left join customers c on c.shop_id = k.shop_id and c.id = k.customer_id
    where k.shop_id = ${shopId} and (k.run_id, k.step) > (${after?.[0] ?? 0}, ${after?.[1] ?? ''})
    order by k.run_id, k.step limit ${PAGE}`,
    (row) => written(row, ['issuedAt', 'expiresAt']),
  ) // prettier-ignore

/** What workflows have done. */
export const readActivity = { messages: readMessages, coupons: readCoupons } satisfies Record<string, Read> // prettier-ignore
