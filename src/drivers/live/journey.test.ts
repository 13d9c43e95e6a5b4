import { afterEach, beforeEach, expect, test } from 'vitest'
import { MINUTE_MS } from '../../core/shared/duration.ts'
import { orderEvent, START, thanksDefinition } from '../../testing/builders.ts'
import { makeWorld, type World } from '../../testing/world.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

test('a first order is thanked after 20 minutes, at that very time', async () => {
  await world.publish(thanksDefinition())
  await world.post(orderEvent('order.placed', START))
  expect(await world.mails()).toEqual([])
  await world.moveTo(START + 60 * MINUTE_MS)
  const mails = await world.mails()
  expect(mails).toMatchObject([
    { to: 'ines@example.org', subject: 'About 1001', date: START + 20 * MINUTE_MS },
  ])
  expect((await world.ledger()).map(({ kind }) => kind)).toEqual([
    'entered',
    'tookBranch',
    'waits',
    'sends',
    'ended',
    'sent',
  ])
})
