import { afterAll, beforeAll, expect, test } from 'vitest'
import { importPast } from '../backend/shop/index.ts'
import { createWorkflow } from '../backend/workflows/index.ts'
import type { Condition } from '../core/conditions/condition.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aDefinition, orderEvent, START } from '../testing/builders.ts'
import { SHOP } from '../testing/world.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())

test('the list names products by their titles; what is not there any more by its id', async () => {
  const { db } = api.world
  await importPast(db, SHOP, [orderEvent('order.placed', START - 1000)])
  const has = (product: string): Condition => ({
    kind: 'field',
    field: 'order.products',
    op: 'hasAny',
    value: [product],
  })
  const started = (filter: Condition) =>
    createWorkflow(
      db,
      SHOP,
      aDefinition({ trigger: { kind: 'event', event: 'order.placed', filter } }),
    )
  const known = await started(has('p1'))
  const gone = await started(has('p-gone'))
  const list = (await api.call('GET', '/api/workflows')).json<
    { id: string; startsWhen: string }[]
  >()
  const wordsOf = (id: string) => list.find((one) => one.id === id)?.startsWhen
  expect(wordsOf(known)).toContain('Bee brush')
  expect(wordsOf(gone)).toContain('p-gone')
})
