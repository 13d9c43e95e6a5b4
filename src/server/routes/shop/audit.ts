import { auditPage, everyAudit } from '../../../backend/accounts/index.ts'
import { auditQuery, auditResponse } from '../../../contract/audit.ts'
import { exportQuery } from '../../../contract/exports.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireOwner } from '../../guards.ts'
import { sendRows } from '../../sendRows.ts'

/** Who changed what, for owners: searched, and as a file. */
export function auditRoutes(app: App, { db, reading }: ServerContext): void {
  app.get(
    '/api/audit',
    { schema: { querystring: auditQuery, response: { 200: auditResponse } }, preHandler: requireOwner }, // prettier-ignore
    ({ user, query }, reply) => reading.run(askerOf(reply), (tx) => auditPage(tx, user.shopId, query)), // prettier-ignore
  )

  app.get(
    '/api/audit-file',
    { schema: { querystring: exportQuery }, preHandler: requireOwner },
    async ({ user, query: { format } }, reply) =>
      sendRows(reply, { name: 'changes', format, rows: everyAudit(db, user.shopId) }),
  )
}
