import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { sql } from 'drizzle-orm'
import { importPast } from '../../backend/shop/index.ts'
import type { EventType } from '../../core/events/eventTypes.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { advance } from '../../core/workflow/advance.ts'
import { freshRun } from '../../core/workflow/runState.ts'
import { compileProgram } from '../../core/workflow/compile.ts'
import type { Decision } from '../../core/workflow/decision.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { considerStart } from '../../core/workflow/start.ts'
import { definitions } from '../../testing/arbitraries.ts'
import { orderEvent, START } from '../../testing/builders.ts'
import { facts, past } from '../../testing/coreFacts.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'

let world: World
beforeAll(async () => {
  world = await makeWorld()
})
afterAll(() => world.close())

interface Happening {
  type: EventType
  at: Instant
  order: string
}

/** The interpreter alone, with the history in memory and a clock that jumps to each due time. */
function interpret(
  definition: Definition,
  happenings: readonly Happening[],
): [Instant, Decision][] {
  const program = compileProgram(definition)
  const history = happenings.map(({ type, at, order }) => past(type, at, order))
  const factsAt = (now: Instant) => facts({ now, history: history.filter(({ at }) => at <= now) })
  const occasion = { at: START, cause: { by: 'event' as const } }
  const start = considerStart(program, occasion, factsAt(START), {
    lastEnteredAt: null,
    inProgress: false,
  })
  const log: [Instant, Decision][] = [[START, start]]
  if (start.kind !== 'entered') return log
  let run = freshRun(program, START)
  for (let now = START; run.status === 'inProgress'; now = run.dueAt ?? now) {
    const { decisions, next } = advance(program, run, factsAt(now))
    log.push(...decisions.map((decision): [Instant, Decision] => [now, decision]))
    run = next
  }
  return log
}

let cases = 0

/** The same in PostgreSQL: events posted at their times while the clock moves. */
async function liveThrough(
  definition: Definition,
  happenings: readonly Happening[],
): Promise<[Instant, Decision][]> {
  await world.db.execute(
    sql`truncate events, customers, products, orders, order_lines, workflows, workflow_versions, runs, ledger, messages, mails`,
  )
  await world.db.execute(sql`update shops set clock_now = ${START}, clock_target = null`)
  // A version never changes, so every case is a workflow of its own.
  const id = `w${(cases += 1)}`
  const toEvent = ({ type, at, order }: Happening) =>
    orderEvent(type, at, { id: order, number: order })
  await importPast(world.db, SHOP, happenings.filter(({ at }) => at < START).map(toEvent))
  // Published only here, so that the past starts nothing; straight in, since any document may run.
  await world.db.execute(
    sql`insert into workflows values (${SHOP}, ${id}, 'live', ${JSON.stringify(definition)}::jsonb, 0, 1, 0, 0)`,
  )
  await world.db.execute(
    sql`insert into workflow_versions values (${SHOP}, ${id}, 1, ${JSON.stringify(definition)}::jsonb, 0, 'test')`,
  )
  await world.post(toEvent({ type: 'order.placed', at: START, order: 'o1' }))
  const [first] = (await world.ledger()).slice(0, 1)
  for (const happening of happenings.filter(({ at }) => at > START)) {
    await world.moveTo(happening.at)
    // Other orders would start runs of their own; they only count.
    await importPast(world.db, SHOP, [toEvent(happening)])
  }
  await world.moveTo(START + 400 * DAY_MS)
  const decided = (await world.ledger()).filter(
    ({ kind }) => !['sent', 'failed', 'unsure', 'retries'].includes(kind),
  )
  expect(decided[0]).toEqual(first)
  return decided.map(({ at, ...decision }) => [at, decision as Decision])
}

const happenings = fc
  .uniqueArray(
    fc.record({
      type: fc.constantFrom<EventType>('order.placed', 'order.cancelled', 'order.refunded'),
      // Half past some hour of some day, so that nothing falls on the very moment of a wait's end.
      at: fc.integer({ min: -50, max: 50 }).map((days) => START + days * DAY_MS + 1_801_000),
      order: fc.constantFrom('o1', 'o2'),
    }),
    { maxLength: 4, selector: ({ at }) => at },
  )
  .map((list) => list.toSorted((a, b) => a.at - b.at))

test('the live driver decides what the interpreter decides, at the same times (property)', async () => {
  await fc.assert(
    fc.asyncProperty(definitions, happenings, async (definition, list) => {
      const alone = interpret(definition, [
        ...list,
        { type: 'order.placed', at: START, order: 'o1' },
      ])
      expect(await liveThrough(definition, list)).toEqual(alone)
    }),
    { numRuns: 40 },
  )
}, 120_000)
