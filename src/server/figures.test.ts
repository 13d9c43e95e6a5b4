import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { z } from 'zod'
import { KEPT_FROM_PEOPLE } from '../backend/figures/index.ts'
import { rowsOf } from '../backend/platform/db.ts'
import { AS_OF_HEADER } from '../contract/figures.ts'
import type { healthResponse } from '../contract/overview.ts'
import { MINUTE_MS } from '../core/shared/duration.ts'
import { aDefinition, anEmail, orderEvent, START } from '../testing/builders.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { SHOP } from '../testing/world.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
  await api.world.publish(aDefinition({ steps: [anEmail('m')] }))
  await order('1')
})
afterAll(() => api.close())

const order = (id: string) =>
  api.world.post(orderEvent('order.placed', START, { id, customerId: `c${id}` }, { id: `c${id}`, email: `c${id}@example.org` })) // prettier-ignore
const health = async () => {
  const answer = await api.call('GET', '/api/overview/health')
  return {
    sent: answer.json<z.infer<typeof healthResponse>>().sent,
    asOf: answer.headers[AS_OF_HEADER],
  }
}
/** Until what is counted behind an answer is kept. */
const counted = async (asOf: number): Promise<void> => {
  const query = sql`select as_of as "asOf" from kept_figures where shop_id = ${SHOP} and key = 'health'`
  for (;;) {
    const [row] = await rowsOf(api.world.db, z.object({ asOf: z.number() }), query)
    if (row?.asOf === asOf) return
  }
}

test('figures of a shop are counted for who asks, up to a stated size; of a larger one they are kept, and say of when they are', async () => {
  expect(await health()).toEqual({ sent: 1, asOf: undefined })
  await order('2')
  expect(await health()).toEqual({ sent: 2, asOf: undefined })

  await api.world.db.execute(sql`insert into customers (shop_id, id, as_of)
    select ${SHOP}, 'n' || n, 0 from generate_series(1, ${KEPT_FROM_PEOPLE}::int) n`)
  // Counted once, while somebody waits.
  expect(await health()).toEqual({ sent: 2, asOf: undefined })
  await order('3')
  expect(await health()).toEqual({ sent: 2, asOf: String(START) })
  // Old, they are shown once more, and counted anew behind that.
  const later = START + 10 * MINUTE_MS
  await api.world.jumpTo(later)
  expect(await health()).toEqual({ sent: 2, asOf: String(START) })
  await counted(later)
  expect(await health()).toEqual({ sent: 3, asOf: String(later) })
  // A clock that is moved back makes them the future’s.
  await api.world.jumpTo(START + MINUTE_MS)
  expect((await health()).asOf).toBeUndefined()
})
