import { z } from 'zod'
import { exportRows } from '../../../backend/exports/index.ts'
import { findShop } from '../../../backend/shop/index.ts'
import { exportKind, exportQuery } from '../../../contract/exports.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'
import { everyResult } from '../../resultRows.ts'
import { sendRows } from '../../sendRows.ts'

const params = z.object({ kind: exportKind })

/** Everything the shop has here, as files. */
export function exportRoutes(app: App, { db }: ServerContext): void {
  app.get(
    '/api/exports/:kind',
    { schema: { params, querystring: exportQuery }, preHandler: requireMarketer },
    async ({ user, params: { kind }, query: { format } }, reply) => {
      const shop = await findShop(db, user.shopId)
      const rows = kind === 'results' ? everyResult(db, shop) : exportRows(db, shop, kind)
      return sendRows(reply, { name: kind, format, rows })
    },
  )
}
