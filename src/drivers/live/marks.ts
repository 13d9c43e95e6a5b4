import { sql } from 'drizzle-orm'
import { recordsOf, type Db } from '../../backend/platform/db.ts'
import type { MarkStep } from '../../core/workflow/marks.ts'
import type { DecidedRow } from './decidedRow.ts'

interface Marks {
  customerId: string
  tags: Record<string, boolean>
  /** True for lists to be added to, false for those to be removed from. */
  lists: Record<string, boolean>
  properties: Record<string, string>
}

/** Puts the tags, lists and properties that runs decided on onto their customers. */
export async function markCustomers(
  db: Db,
  shopId: string,
  rows: readonly DecidedRow[],
): Promise<void> {
  const marks = new Map<string, Marks>()
  for (const { customerId, step } of rows.flatMap(markOf)) {
    const own = marks.get(customerId) ?? { customerId, tags: {}, lists: {}, properties: {} }
    marks.set(customerId, own)
    if (step.kind === 'tag') own.tags[step.tag] = step.change === 'add'
    else if (step.kind === 'list') own.lists[step.list] = step.change === 'add'
    else own.properties[step.property] = step.value
  }
  if (marks.size === 0) return
  await db.execute(sql`
    update customers as c set tag_changes = c.tag_changes || m.tags,
      properties = c.properties || m.properties,
      lists = (select coalesce(jsonb_agg(name order by name), '[]'::jsonb) from (
        select jsonb_array_elements_text(c.lists) as name
        union select key from jsonb_each(m.lists)) as all_lists
        where coalesce((m.lists->>name)::boolean, true))
    from (select * from jsonb_to_recordset(${recordsOf([...marks.values()])})
      as r("customerId" text, tags jsonb, lists jsonb, properties jsonb) order by "customerId") as m
    where c.shop_id = ${shopId} and c.id = m."customerId"`)
}

function markOf({
  program,
  entry,
  customerId,
}: DecidedRow): { customerId: string; step: MarkStep }[] {
  if (entry.kind !== 'marks') return []
  const instruction = program.instructions.get(entry.step)
  if (instruction?.kind !== 'action') return []
  const { step } = instruction
  return step.kind === 'coupon' || step.kind === 'hook' ? [] : [{ customerId, step }]
}
