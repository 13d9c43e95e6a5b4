import { afterEach, beforeEach, expect, test } from 'vitest'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import { entryWords } from '../../core/words/decisions.ts'
import type { Definition } from '../../core/workflow/definition.ts'
// prettier-ignore
import { aDefinition, anEmail, happened, orderEvent, ordersEver, START, wait } from '../../testing/builders.ts'
import { makeWorld, type World } from '../../testing/world.ts'
import { runComing } from './coming.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const FOLLOW_UP = aDefinition({
  name: 'Follow-up',
  exclusions: [{ key: 'refunded', when: happened('order.refunded'), effect: 'leave' }],
  steps: [
    wait('w', 'P2D'),
    {
      key: 'paid',
      kind: 'waitFor',
      event: 'order.paid',
      about: 'subject',
      limit: 'P1D',
      came: [anEmail('paid')],
      otherwise: [],
    },
    {
      key: 's',
      kind: 'split',
      branches: [{ key: 'again', name: 'Again', when: ordersEver(2), steps: [anEmail('again')] }],
      otherwise: [
        anEmail('first', { name: 'Care guide', purpose: 'marketing', onlyIf: ordersEver(1) }),
      ],
    },
    wait('v', 'P3D'),
    anEmail('last', { purpose: 'marketing' }),
  ],
})

async function enter(definition: Definition = FOLLOW_UP): Promise<void> {
  await world.publish(definition)
  await world.post(orderEvent('order.placed', START))
}
const coming = async () => runComing(world.db, world.programs, await world.shop(), 1)

test('what is to come is what comes, if nothing changes', async () => {
  await enter()
  const { lines, next, isPaused } = await coming()
  const before = (await world.ledger()).length
  await world.moveTo(START + 20 * DAY_MS)
  const shop = await world.shop()
  const decided = (await world.ledger()).slice(before).filter(({ kind }) => kind !== 'sent')
  expect(lines.map(({ at, words }) => [at, words])).toEqual(
    decided.map(({ at, ...entry }) => [at, entryWords(entry, FOLLOW_UP, shop)]),
  )
  expect(lines.length).toBeGreaterThan(5)
  expect(next).toEqual({ step: 'Care guide', at: START + 3 * DAY_MS })
  expect(isPaused).toBe(false)
  // It is over now.
  expect(await coming()).toMatchObject({ lines: [], next: null, hindrances: [] })
})

test('what would stop or move it is told with its present value, and stops it indeed', async () => {
  await enter()
  await world.moveTo(START + 2 * DAY_MS + HOUR_MS)
  const { hindrances } = await coming()
  expect(hindrances).toEqual([
    {
      would: 'It goes on at once when “order paid” comes',
      now: 'waits for that until 17 April, 10:20',
    },
    { would: 'They leave if: this order was refunded since entry', now: 'no order refunded' },
    {
      would: 'It is sent only if: ordered exactly once ever',
      now: 'order placed on 14 April, 10:20',
    },
    { would: 'It is not sent without an email address', now: 'known' },
    {
      would: 'It is not sent without consent to marketing, nor after a bounce or a complaint',
      now: 'agreed',
    },
  ])
  await world.post(orderEvent('order.refunded', START + 2 * DAY_MS + HOUR_MS))
  const after = await coming()
  expect(after.next).toBeNull()
  expect(after.hindrances[1]?.now).toMatch(/^order refunded on 16 April/)
  expect(after.lines.map(({ words }) => words)).toContainEqual(
    expect.stringMatching(/^Left before/),
  )
})

test('while the workflow is paused that is said first, with what would come then', async () => {
  await enter()
  const [flow] = (await world.db.$client.query('select id from workflows')).rows as { id: string }[]
  await world.pause(flow?.id ?? '')
  await world.moveTo(START + 10 * DAY_MS)
  const { isPaused, next } = await coming()
  expect(isPaused).toBe(true)
  expect(next).toEqual({ step: 'Care guide', at: START + 10 * DAY_MS })
})

test('of a run that there is not nothing is told, nor of another shop’s', async () => {
  await enter()
  const shop = await world.shop()
  await expect(runComing(world.db, world.programs, shop, 99)).rejects.toMatchObject({
    code: 'not_found',
  })
  await expect(
    runComing(world.db, world.programs, { ...shop, id: 'other' }, 1),
  ).rejects.toMatchObject({ code: 'not_found' })
})
