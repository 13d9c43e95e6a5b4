import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../../backend/platform/db.ts'
import type { Program } from '../../core/workflow/compile.ts'
import type { Programs } from './programs.ts'

/** A workflow that is switched on, with the version people enter. */
export interface LiveWorkflow {
  id: string
  version: number
  program: Program
}

/**
 * The live workflows that `wanted` picks: highest priority first, then the older. They are locked
 * against being paused until the caller's transaction is over, or a run could start in between.
 */
export async function liveWorkflows(
  db: Db,
  programs: Programs,
  shopId: string,
  wanted: (program: Program, id: string) => boolean,
): Promise<LiveWorkflow[]> {
  const rows = await rowsOf(
    db,
    z.object({
      id: z.string(),
      version: z.number(),
    }),
    sql`select id, live_version as version from workflows
    where shop_id = ${shopId} and state = 'live' order by place for key share`,
  )
  const workflows: LiveWorkflow[] = []
  for (const { id, version } of rows) {
    const program = await programs.get(db, shopId, id, version)
    if (wanted(program, id)) workflows.push({ id, version, program })
  }
  return workflows.toSorted((a, b) => b.program.definition.priority - a.program.definition.priority)
}
