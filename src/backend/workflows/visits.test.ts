import { afterEach, beforeEach, expect, test } from 'vitest'
import { START } from '../../testing/builders.ts'
import { addPeople } from '../../testing/people.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { endVisit, noteVisit } from './index.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
  await addPeople(world.db)
})
afterEach(() => world.close())

const seen = async (userId: string, visit: string, now = START, workflowId = 'w1') =>
  (await noteVisit(world.db, SHOP, { workflowId, visit, userId }, now)).map(({ name }) => name)

test('people see who else has the workflow open, and oneself only in another window', async () => {
  expect(await seen('m', 'window-1')).toEqual([])
  expect(await seen('s', 'window-2')).toEqual(['Maren'])
  expect(await seen('m', 'window-1')).toEqual(['Aoife'])
  expect(await seen('m', 'window-3')).toEqual(['Aoife', 'Maren'])
  expect(await seen('s', 'window-4', START, 'w2')).toEqual([])
})

test('whoever has not been heard of for a while has left, and whoever says so at once', async () => {
  await seen('m', 'window-1')
  expect(await seen('s', 'window-2', START + 20_000)).toEqual(['Maren'])
  expect(await seen('s', 'window-2', START + 20_001)).toEqual([])
  await seen('m', 'window-1', START + 20_001)
  await endVisit(world.db, SHOP, { workflowId: 'w1', visit: 'window-1' })
  expect(await seen('s', 'window-2', START + 20_001)).toEqual([])
})
