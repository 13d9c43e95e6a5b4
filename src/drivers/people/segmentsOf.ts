import { listSegments } from '../../backend/people/index.ts'
import type { Db } from '../../backend/platform/db.ts'
import { readClock, type Shop } from '../../backend/shop/index.ts'
import { compileCondition } from '../../core/conditions/compile.ts'
import { holdingFor } from './peopleWhere.ts'

/** The segments whose condition holds for somebody now. */
export async function segmentsOf(
  db: Db,
  shop: Shop,
  customerId: string,
): Promise<{ id: string; name: string }[]> {
  const { now } = await readClock(db, shop.id)
  const held: { id: string; name: string }[] = []
  for (const { id, name, condition } of await listSegments(db, shop.id)) {
    const holding = await holdingFor(db, shop, compileCondition(condition), [customerId], now)
    if (holding.has(customerId)) held.push({ id, name })
  }
  return held
}
