import { setImmediate as breathe } from 'node:timers/promises'
import { countPeople, drawnPeople, listedPeople, personRows, readPlace, writePlace, type ListedPerson } from '../../backend/people/index.ts' // prettier-ignore
import type { Db } from '../../backend/platform/db.ts'
import { readClock, type Shop } from '../../backend/shop/index.ts'
import type { PeopleCount, PeopleSort, PersonRow } from '../../contract/people.ts'
import { compileCondition } from '../../core/conditions/compile.ts'
import type { CompiledCondition } from '../../core/conditions/compiled.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import type { Instant } from '../../core/shared/time.ts'
import { loadFacts, type FactRequest } from '../live/facts/index.ts'

/** How many people's facts are loaded at once. */
const BATCH = 500

const requestFor =
  ({ needs }: CompiledCondition) =>
  (customerId: string): FactRequest => ({
    customerId,
    workflowId: '',
    runId: null,
    subjectKind: 'customer',
    subjectId: null,
    line: null,
    eventSeq: null,
    needs,
  })

/** Those of some people for whom a condition holds at a moment. */
export async function holdingFor(
  db: Db,
  shop: Shop,
  condition: CompiledCondition,
  ids: readonly string[],
  now: Instant,
): Promise<Set<string>> {
  const request = requestFor(condition)
  const holding = new Set<string>()
  for (let at = 0; at < ids.length; at += BATCH) {
    const batch = ids.slice(at, at + BATCH)
    const source = await loadFacts(db, shop, batch.map(request), now)
    for (const id of batch) {
      const isThere = source.has(id)
      if (isThere && condition.holds({ facts: source.of(request(id)), enteredAt: now })) holding.add(id)
    }
    await breathe()
  }
  return holding
} // prettier-ignore

export interface PeopleFilter {
  search: string
  condition: Condition | null
}

const PAGE = 60
/** More people than that are not gone through for one page; the next goes on from there. */
const MOST_LOOKED = 20_000

/**
 * A page of the people that a search and a condition are about. `after` is where the next begins; it is null where
 * there is none. A page may be short where the condition holds for few: then it ends where it was given up.
 */
export async function peoplePage(
  db: Db,
  shop: Shop,
  { search, condition, sort, after }: PeopleFilter & { sort: PeopleSort; after: string | null },
): Promise<{ people: PersonRow[]; after: string | null }> {
  const { now } = await readClock(db, shop.id)
  const compiled = condition && compileCondition(condition)
  const found: ListedPerson[] = []
  let place = readPlace(after)
  let looked = 0
  let isOver = false
  while (!isOver && found.length <= PAGE && looked < MOST_LOOKED) {
    const limit = compiled ? BATCH : PAGE + 1
    const batch = await listedPeople(db, shop, { search, sort, after: place, limit })
    const ids = batch.map(({ id }) => id)
    const holding = compiled ? await holdingFor(db, shop, compiled, ids, now) : new Set(ids)
    found.push(...batch.filter(({ id }) => holding.has(id)))
    place = batch.at(-1)?.place ?? place
    looked += batch.length
    isOver = batch.length < limit
  }
  const page = found.slice(0, PAGE)
  const next = found.length > PAGE ? page.at(-1)?.place : isOver ? undefined : place
  return {
    people: await personRows(db, shop, page.map(({ id }) => id)),
    after: next ? writePlace(next) : null,
  }
} // prettier-ignore

/** The ids of all for whom a search and a condition hold, in no order. */
export async function idsWhere(
  db: Db,
  shop: Shop,
  { search, condition }: PeopleFilter,
): Promise<string[]> {
  const { now } = await readClock(db, shop.id)
  const most = await countPeople(db, shop.id)
  const ids = await drawnPeople(db, shop.id, { search, most })
  if (condition === null) return ids
  return [...(await holdingFor(db, shop, compileCondition(condition), ids, now))]
}

/** So many are asked at most for a count; of more a part is drawn by lot. */
const MOST_ASKED = 10_000

/** For how many people a search and a condition hold. Of many, a part is drawn by lot, and asked. */
export async function countPeopleWhere(
  db: Db,
  shop: Shop,
  { search, condition }: PeopleFilter,
): Promise<PeopleCount> {
  const { now } = await readClock(db, shop.id)
  const of = await countPeople(db, shop.id)
  const ids = await drawnPeople(db, shop.id, { search, most: search === '' ? MOST_ASKED : of })
  const looked = search === '' ? ids.length : of
  if (condition === null) return { of, looked: of, held: search === '' ? of : ids.length }
  const holding = await holdingFor(db, shop, compileCondition(condition), ids, now)
  return { of, looked, held: holding.size }
}
