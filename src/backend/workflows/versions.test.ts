import { afterEach, beforeEach, expect, test } from 'vitest'
import { aDefinition, anEmail, orderEvent, START, wait } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { findVersion, goLive, listVersions, saveDraft } from './index.ts'

let world: World

beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

test('every published state is kept, with who is still on it', async () => {
  const first = aDefinition({ steps: [wait('w', 'P1D'), anEmail('a')] })
  const id = await world.publish(first)
  await world.post(orderEvent('order.placed', START))
  const second = { ...first, name: 'Second' }
  const revision = await saveDraft(world.db, SHOP, id, 0, second)
  await goLive(world.db, SHOP, id, revision, 'maren')
  expect(await listVersions(world.db, SHOP, id)).toEqual([
    { version: 2, publishedAt: START, publishedBy: 'maren', inProgress: 0 },
    { version: 1, publishedAt: START, publishedBy: 'tester', inProgress: 1 },
  ])
  expect(await findVersion(world.db, SHOP, id, 1)).toEqual(first)
  expect(await findVersion(world.db, SHOP, id, 2)).toEqual(second)
  await expect(findVersion(world.db, SHOP, id, 3)).rejects.toThrow('There is no such version')
})
