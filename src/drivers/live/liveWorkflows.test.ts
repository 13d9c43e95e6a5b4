import { expect, test } from 'vitest'
import { workflowNames } from '../../backend/workflows/index.ts'
import { aDefinition, anEmail } from '../../testing/builders.ts'
import { makeWorld, SHOP } from '../../testing/world.ts'
import { liveWorkflows } from './liveWorkflows.ts'
import { Programs } from './programs.ts'

test('of the same priority the older is tried first, also of those made at one moment', async () => {
  const world = await makeWorld()
  try {
    const names = ['f', 'a', 'e', 'b', 'd', 'c']
    for (const name of names)
      await world.publish({ ...aDefinition({ steps: [anEmail('m')] }), name })
    expect((await workflowNames(world.db, SHOP)).map(({ name }) => name)).toEqual(names)
    const live = await liveWorkflows(world.db, new Programs(), SHOP, () => true)
    expect(live.map(({ program }) => program.definition.name)).toEqual(names)
  } finally {
    await world.close()
  }
})
