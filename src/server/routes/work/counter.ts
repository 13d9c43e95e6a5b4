import { z } from 'zod'
import {
  actOnOrder,
  actOnSubscription,
  counterCustomers,
  counterOrders,
  counterProducts,
  counterSubscriptions,
  happen,
  lastEvents,
  placeOrder,
} from '../../../backend/shop/index.ts'
import {
  counterCustomer,
  counterEvent,
  counterHappening,
  counterOrder,
  counterProduct,
  counterSubscription,
  customerQuery,
  orderActionBody,
  subscriptionActionBody,
  placeOrderBody,
} from '../../../contract/counter.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'

const params = z.object({ id: z.string() })

/** The counter: a small shop where orders are placed and dealt with by hand. */
export function counterRoutes(app: App, { db, reading }: ServerContext): void {
  app.get(
    '/api/counter/products',
    { schema: { response: { 200: z.array(counterProduct) } } },
    ({ user }) => counterProducts(db, user.shopId),
  )

  app.get(
    '/api/counter/customers',
    { schema: { querystring: customerQuery, response: { 200: z.array(counterCustomer) } } },
    ({ user, query: { search } }, reply) =>
      reading.run(askerOf(reply), (tx) => counterCustomers(tx, user.shopId, search)),
  )

  app.get(
    '/api/counter/orders',
    { schema: { response: { 200: z.array(counterOrder) } } },
    ({ user }) => counterOrders(db, user.shopId),
  )

  app.post(
    '/api/counter/orders',
    { schema: { body: placeOrderBody, response: { 201: z.object({ number: z.string() }) } } },
    async ({ user, body }, reply) => {
      const number = await placeOrder(db, user.shopId, body)
      return reply.status(201).send({ number })
    },
  )

  app.post(
    '/api/counter/orders/:id/events',
    { schema: { params, body: orderActionBody } },
    async ({ user, params: { id }, body }, reply) => {
      await actOnOrder(db, user.shopId, id, body.action)
      return reply.status(204).send()
    },
  )

  app.post(
    '/api/counter/happenings',
    { schema: { body: counterHappening } },
    async ({ user, body }, reply) => {
      await happen(db, user.shopId, body)
      return reply.status(204).send()
    },
  )

  app.get(
    '/api/counter/subscriptions',
    { schema: { response: { 200: z.array(counterSubscription) } } },
    ({ user }) => counterSubscriptions(db, user.shopId),
  )

  app.post(
    '/api/counter/subscriptions/:id/events',
    { schema: { params, body: subscriptionActionBody } },
    async ({ user, params: { id }, body }, reply) => {
      await actOnSubscription(db, user.shopId, id, body.action)
      return reply.status(204).send()
    },
  )

  app.get(
    '/api/counter/events',
    { schema: { response: { 200: z.array(counterEvent) } } },
    ({ user }) => lastEvents(db, user.shopId),
  )
}
