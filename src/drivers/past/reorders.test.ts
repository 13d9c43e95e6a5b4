import { afterAll, beforeAll, expect, test } from 'vitest'
import { reckonReorders } from '../../backend/reorder/index.ts'
import { importPast } from '../../backend/shop/index.ts'
import { START } from '../../testing/builders.ts'
import { pelletBuyers, pelletReminder } from '../../testing/pelletBuyers.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { replay } from './replay.ts'

let world: World
beforeAll(async () => {
  world = await makeWorld()
})
afterAll(() => world.close())

test('a draft that goes by the expected day says what it would have done', async () => {
  await importPast(world.db, SHOP, pelletBuyers())
  await reckonReorders(world.db, SHOP, START)
  const found = await replay(world.db, SHOP, {
    ...pelletReminder,
    trigger: {
      ...pelletReminder.trigger,
      filter: { kind: 'field', field: 'line.reorderBasis', op: 'is', value: 'person' },
    },
  })
  const decided = found?.lives.flatMap((life) => life.decided.map(({ decision }) => decision.kind))
  const entered = decided?.filter((kind) => kind === 'entered').length ?? 0
  // About every forty days for sixty people; some of them had bought it again by then.
  expect(entered).toBeGreaterThan(40)
  expect(entered).toBeLessThan(135)
  expect(decided?.filter((kind) => kind === 'sends')).toHaveLength(entered)
})
