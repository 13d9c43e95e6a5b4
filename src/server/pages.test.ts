import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { rowsOf } from '../backend/platform/db.ts'
import type { EventType } from '../core/events/eventTypes.ts'
import { makeApi, type Api } from '../testing/api.ts'
import {
  aCart,
  aDefinition,
  anEmail,
  aReview,
  aSubscription,
  eventOf,
  on,
  orderEvent,
  START,
  wait,
} from '../testing/builders.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())

/** Of everything a run can be about, one event; of the people as little is known as can be. */
const STARTS: Partial<Record<EventType, object>> = {
  'basket.item_added': { basket: aCart({ customerId: 'basket' }) },
  'checkout.started': { checkout: aCart({ customerId: 'checkout', url: null }) },
  'subscription.created': { subscription: aSubscription({ customerId: 'subscription', paymentMethod: null }) }, // prettier-ignore
  'review.submitted': { review: aReview({ customerId: 'review' }) },
  'product.viewed': { product: { customerId: 'view', productId: 'p1', title: 'Bee brush' } },
  'customer.created': { customer: { id: 'customer' } },
}

/** Every page of the interface, for whoever looks at what happened. */
async function pages(): Promise<string[]> {
  const ids = async (table: string) => {
    const row = z.object({ id: z.union([z.string(), z.number()]) })
    const rows = await rowsOf(api.world.db, row, sql`select id from ${sql.identifier(table)}`)
    return rows.map(({ id }) => id)
  }
  const workflows = await ids('workflows')
  return [
    ...['workflows', 'workflow-names', 'ledger', 'attention', 'coupons', 'mails', 'notices', 'keys', 'addresses'].map((name) => `/api/${name}`), // prettier-ignore
    ...workflows.flatMap((id) =>
      ['', '/numbers', '/versions', '/results'].map((part) => `/api/workflows/${id}${part}`),
    ),
    ...(await ids('runs')).map((id) => `/api/runs/${id}`),
    ...(await ids('mails')).map((id) => `/api/mails/${id}`),
  ]
}

test('whatever a run is about, and however little is known of the person, each page can be looked at', async () => {
  const steps = [
    anEmail('m', { subject: 'Hello', body: 'Hello' }),
    wait('w', 'P1D'),
    anEmail('n', { subject: 'Hello again', body: 'Hello', purpose: 'marketing' }),
  ]
  for (const event of ['order.placed', ...Object.keys(STARTS)] as EventType[]) {
    await api.world.publish(aDefinition({ name: event, trigger: on(event), steps }))
  }
  await api.world.post(
    orderEvent('order.placed', START, {}, { firstName: null, lastName: null }),
    ...Object.entries(STARTS).map(([type, data]) => eventOf(type as EventType, START, data)),
  )
  const all = await pages()
  expect(all.filter((path) => path.startsWith('/api/runs/'))).toHaveLength(7)
  const answers = await Promise.all(
    all.map(async (path) => `${(await api.call('GET', path)).statusCode} ${path}`),
  )
  expect(answers.filter((answer) => !answer.startsWith('200'))).toEqual([])
})
