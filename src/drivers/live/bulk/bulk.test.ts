import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { z } from 'zod'
import { rowsOf, type Database } from '../../../backend/platform/db.ts'
import { openBulk } from '../../../backend/runs/index.ts'
import {
  goLive,
  pauseWorkflow,
  resumeWorkflow,
  retireWorkflow,
  saveDraft,
} from '../../../backend/workflows/index.ts'
import { DAY_MS, HOUR_MS } from '../../../core/shared/duration.ts'
import { aDefinition, anEmail, orderEvent, START, wait } from '../../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../../testing/world.ts'
import { runDue } from '../runDue.ts'
import { moveToLiveVersion } from './moveToLiveVersion.ts'
import { workOnBulk } from './workOnBulk.ts'

const PEOPLE = 30
/** So few have their turn at once that many batches are needed. */
const MOST = 4

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const old = aDefinition({ steps: [wait('w', 'P1D'), anEmail('m', { subject: 'old' }), wait('x', 'P9D'), anEmail('n')] }) // prettier-ignore
const renewed = aDefinition({ steps: [wait('w', 'P1D'), anEmail('m', { subject: 'new' }), wait('x', 'P9D'), anEmail('n')] }) // prettier-ignore

/** People who came in one by one, half an hour apart. */
const APART_MS = HOUR_MS / 2
async function enter(): Promise<string> {
  const id = await world.publish(old)
  const people = Array.from(
    { length: PEOPLE },
    (_, at) =>
    orderEvent('order.placed', START - at * APART_MS, { id: `o${at}`, customerId: `c${at}` }, { id: `c${at}`, email: `c${at}@example.org` }), // prettier-ignore
  )
  await world.post(...people)
  return id
}

const counted = (query: ReturnType<typeof sql>) => rowsOf(world.db, z.object({ n: z.number() }), query).then(([row]) => row?.n) // prettier-ignore
const entries = (kind: string) => counted(sql`select count(*)::int as n from ledger where kind = ${kind}`) // prettier-ignore
const open = async (id: string) => openBulk(world.db, SHOP, [id])

/** A database whose next transaction is lost once its work is done, as by a kill just before the commit. */
const killed = (db: Database): Database =>
  new Proxy(db, {
    get: (target, key) =>
      key === 'transaction'
        ? (work: Parameters<Database['transaction']>[0], options?: object) =>
            target.transaction(async (tx) => {
              await work(tx)
              throw new Killed()
            }, options)
        : (Reflect.get(target, key) as unknown),
  })
class Killed extends Error {}

const happenings = fc.array(fc.constantFrom('batch', 'killed batch', 'due', 'killed due'), { minLength: 3, maxLength: 14 }) // prettier-ignore

/** Does what a worker would, in any order, dying now and then; then all that is left. */
async function workThrough(what: readonly string[]): Promise<void> {
  for (const one of what) {
    const db = one.startsWith('killed') ? killed(world.db) : world.db
    const work = one.endsWith('batch')
      ? workOnBulk(db, world.programs, SHOP, MOST)
      : runDue(db, world.programs, SHOP, MOST)
    await work.catch((error: unknown) => {
      if (!(error instanceof Killed)) throw error
    })
  }
  while (await workOnBulk(world.db, world.programs, SHOP, MOST));
  await world.settle()
}

describe('what is done to everybody in a workflow', () => {
  test('moved: each once, and nobody gets the old words after it was asked for', async () => {
    await fc.assert(
      fc.asyncProperty(happenings, async (what) => {
        const id = await enter()
        await saveDraft(world.db, SHOP, id, 0, renewed)
        await goLive(world.db, SHOP, id, 1, 'tester')
        await world.jumpTo(START + DAY_MS)
        const asked = await moveToLiveVersion(world.db, world.programs, SHOP, id, 'Maren', MOST)
        expect(asked).toEqual({ moved: MOST, stay: 0, left: PEOPLE - MOST })
        await workThrough(what)
        expect(await open(id)).toEqual([])
        expect(await entries('moved')).toBe(PEOPLE)
        expect(await counted(sql`select count(distinct run_id)::int as n from ledger where kind = 'moved'`)).toBe(PEOPLE) // prettier-ignore
        expect((await world.mails()).map(({ subject }) => subject)).toEqual(Array(PEOPLE).fill('new')) // prettier-ignore
        await world.close()
        world = await makeWorld()
      }),
      { numRuns: 6 },
    )
  }, 120_000)

  test('ended: each once, and nobody gets anything after it was asked for', async () => {
    await fc.assert(
      fc.asyncProperty(happenings, async (what) => {
        const id = await enter()
        await world.jumpTo(START + DAY_MS)
        expect(await retireWorkflow(world.db, SHOP, id, { endRuns: true, person: 'Maren', most: MOST })).toBe(PEOPLE) // prettier-ignore
        await workThrough(what)
        expect(await open(id)).toEqual([])
        expect(await entries('retired')).toBe(PEOPLE)
        expect(await world.mails()).toEqual([])
        expect(await counted(sql`select count(*)::int as n from runs where status = 'inProgress'`)).toBe(0) // prettier-ignore
        await world.close()
        world = await makeWorld()
      }),
      { numRuns: 6 },
    )
  }, 120_000)

  test('resumed: each goes on once, and whose message is too late has it passed over', async () => {
    await fc.assert(
      fc.asyncProperty(happenings, async (what) => {
        const id = await enter()
        await pauseWorkflow(world.db, SHOP, id)
        await world.jumpTo(START + DAY_MS)
        await world.settle()
        expect(await world.mails()).toEqual([])
        await resumeWorkflow(world.db, SHOP, id, { skipLaterThanHours: 10, most: MOST })
        await workThrough(what)
        expect(await open(id)).toEqual([])
        // Ten hours of those who came in half an hour apart, and the one at their end.
        expect((await world.mails()).length).toBe(21)
        expect(await entries('skipped')).toBe(PEOPLE - 21)
        await world.close()
        world = await makeWorld()
      }),
      { numRuns: 6 },
    )
  }, 120_000)
})

test('ended with it is what is held back of runs that had come to their end', async () => {
  const id = await world.publish(aDefinition({ steps: [anEmail('m', { subject: 'last' })] }))
  await world.post(orderEvent('order.placed', START))
  await world.db.execute(sql`update messages set status = 'held', held_until = ${START + HOUR_MS}`)
  await retireWorkflow(world.db, SHOP, id, { endRuns: true, person: 'Maren' })
  await world.moveTo(START + DAY_MS)
  expect(await counted(sql`select count(*)::int as n from messages where status = 'skipped'`)).toBe(1) // prettier-ignore
})

describe('a pause', () => {
  test('touches nobody until they are due, and holds them then', async () => {
    const id = await enter()
    const held = () => counted(sql`select count(*)::int as n from runs where due_at is null and status = 'inProgress'`) // prettier-ignore
    await pauseWorkflow(world.db, SHOP, id)
    await world.jumpTo(START + DAY_MS / 2)
    expect(await held()).toBe(0)
    await world.settle()
    expect(await held()).toBe(6)
    await world.jumpTo(START + DAY_MS)
    await world.settle()
    expect(await held()).toBe(PEOPLE)
    expect(await world.mails()).toEqual([])
  })

  test('that comes while many go on again stops those whose turn has not come, and those whose has', async () => {
    const id = await enter()
    await pauseWorkflow(world.db, SHOP, id)
    await world.jumpTo(START + DAY_MS)
    await world.settle()
    await resumeWorkflow(world.db, SHOP, id, { most: MOST })
    await workOnBulk(world.db, world.programs, SHOP, MOST)
    await pauseWorkflow(world.db, SHOP, id)
    expect(await open(id)).toEqual([])
    await world.settle()
    expect(await world.mails()).toEqual([])
    await resumeWorkflow(world.db, SHOP, id)
    await world.settle()
    expect(await world.mails()).toHaveLength(PEOPLE)
  })

  test('moved in it, people wait by the new version, and are held once that is over', async () => {
    const id = await enter()
    await pauseWorkflow(world.db, SHOP, id)
    await saveDraft(world.db, SHOP, id, 0, aDefinition({ steps: [wait('w', 'P2D'), anEmail('m', { subject: 'new' })] })) // prettier-ignore
    await goLive(world.db, SHOP, id, 1, 'tester')
    await moveToLiveVersion(world.db, world.programs, SHOP, id, 'Maren', MOST)
    await workThrough([])
    await resumeWorkflow(world.db, SHOP, id)
    await world.moveTo(START + DAY_MS)
    const early = (await world.mails()).length
    expect(early).toBeLessThan(PEOPLE)
    await world.moveTo(START + 2 * DAY_MS)
    expect((await world.mails()).map(({ subject }) => subject)).toEqual(Array(PEOPLE).fill('new'))
  })
})
