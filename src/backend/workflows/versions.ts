import { and, eq, sql } from 'drizzle-orm'
import { versionListItem, type VersionListItem } from '../../contract/workflows.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { workflowVersions } from './tables.ts'

/** The published states of a workflow, the newest first, with who is still on each. */
export function listVersions(db: Db, shopId: string, id: string): Promise<VersionListItem[]> {
  return rowsOf(
    db,
    versionListItem,
    sql`select v.version, v.published_at as "publishedAt",
      coalesce(u.name, v.published_by) as "publishedBy",
      (select count(*) from runs r where r.shop_id = v.shop_id and r.workflow_id = v.workflow_id
        and r.version = v.version and r.status = 'inProgress') as "inProgress"
    from workflow_versions v
    left join users u on u.shop_id = v.shop_id and u.id = v.published_by
    where v.shop_id = ${shopId} and v.workflow_id = ${id}
    order by v.version desc`,
  )
}

/** The document of a published state. Throws AppError `not_found`. */
export async function findVersion(
  db: Db,
  shopId: string,
  id: string,
  version: number,
): Promise<Definition> {
  const [row] = await db
    .select({ definition: workflowVersions.definition })
    .from(workflowVersions)
    .where(
      and(
        eq(workflowVersions.shopId, shopId),
        eq(workflowVersions.workflowId, id),
        eq(workflowVersions.version, version),
      ),
    )
  if (!row) throw new AppError('not_found', 'There is no such version of this workflow.')
  return row.definition
}
