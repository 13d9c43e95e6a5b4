import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { PersonResponse } from '../../contract/people.ts'
import type { ActEntry } from '../../core/people/act.ts'
import type { Decision } from '../../core/workflow/decision.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { allSteps } from '../../core/workflow/lists.ts'
import { document, rowsOf, type Db } from '../platform/db.ts'

const row = z.object({
  at: z.number(),
  entry: document<ActEntry | Extract<Decision, { kind: 'marks' }>>(),
  definition: document<Definition>().nullable(),
})

/** More changes of one person's lists and tags are not gone through. */
const MOST = 300

interface Label {
  kind: 'list' | 'tag'
  name: string
  change: 'add' | 'remove'
}

/**
 * Since when somebody is on a list or has a tag, and by whom, as far as the ledger tells: a workflow, or somebody of the shop. What the shop
 * itself has told of is not in it.
 */
export async function labelledSince(
  db: Db,
  shopId: string,
  customerId: string,
): Promise<PersonResponse['labelled']> {
  const rows = await rowsOf(db, row, sql`
    select l.at, l.entry, v.definition from ledger l
    left join workflow_versions v on v.shop_id = l.shop_id and v.workflow_id = l.workflow_id and v.version = l.version
    where l.shop_id = ${shopId} and l.customer_id = ${customerId} and l.kind in ('acted', 'marks')
    order by l.id desc limit ${MOST}`)
  const newest = new Map<string, PersonResponse['labelled'][number] | null>()
  for (const { at, entry, definition } of rows) {
    const label = entry.kind === 'acted' ? labelOf(entry) : labelOfStep(definition, entry.step)
    if (!label) continue
    const key = `${label.kind} ${label.name}`
    if (newest.has(key)) continue
    const by = entry.kind === 'acted' ? entry.person : (definition?.name ?? '')
    newest.set(key, label.change === 'add' ? { kind: label.kind, name: label.name, at, by } : null)
  }
  return [...newest.values()].filter((one) => one !== null)
} // prettier-ignore

function labelOf({ act }: ActEntry): Label | null {
  if (act.did !== 'list' && act.did !== 'tag') return null
  return { kind: act.did, name: act.name, change: act.change }
}

function labelOfStep(definition: Definition | null, key: string): Label | null {
  const step = definition && allSteps(definition.steps).find((one) => one.key === key)
  if (step?.kind === 'list') return { kind: 'list', name: step.list, change: step.change }
  return step?.kind === 'tag' ? { kind: 'tag', name: step.tag, change: step.change } : null
}
