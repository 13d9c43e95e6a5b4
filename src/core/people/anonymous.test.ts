import { expect, test } from 'vitest'
import {
  aCart,
  aCustomer,
  anOrder,
  aReview,
  aSubscription,
  eventOf,
  START,
} from '../../testing/builders.ts'
import { readCloudEvent } from '../events/cloudEvent.ts'
import type { EventType } from '../events/eventTypes.ts'
import { anonymousData, anonymousEntry } from './anonymous.ts'

const customer = aCustomer({
  firstName: 'Zuleika',
  lastName: 'Dobson',
  email: 'zuleika@example.org',
})
const EVENTS: [EventType, object][] = [
  ['order.placed', { order: anOrder({ shippingAddress: { name: 'Zuleika' } }), customer }],
  ['order.status_changed', { order: anOrder(), from: 'placed', to: 'paid', customer }],
  ['basket.item_added', { basket: aCart(), customer }],
  ['checkout.started', { checkout: aCart({ url: 'https://shop.example/zuleika' }), customer }],
  [
    'subscription.renewed',
    { subscription: aSubscription({ url: 'https://shop.example/zuleika' }), customer },
  ],
  ['review.submitted', { review: aReview({ text: 'Zuleika was here' }), customer }],
  [
    'product.viewed',
    { product: { customerId: customer.id, productId: 'p', title: 'P' }, customer },
  ],
  ['customer.changed', { customer }],
  [
    'consent.changed',
    { consent: { customerId: customer.id, channel: 'email', given: true, how: 'Zuleika said so' } },
  ],
  [
    'message.clicked',
    {
      message: {
        customerId: customer.id,
        id: '<m@x>',
        address: 'zuleika@example.org',
        url: 'https://x.example/zuleika',
      },
    },
  ],
]

test.each(EVENTS)('%s is still an event of its kind, and tells of nobody', (type, data) => {
  const read = readCloudEvent(eventOf(type, START, data))
  if (!read.ok) throw new Error(JSON.stringify(read.problems))
  const left = anonymousData(read.event.data, (id) => `x-${id.length}`)
  expect(JSON.stringify(left).toLowerCase()).not.toMatch(/zuleika|dobson/)
  expect(JSON.stringify(left)).not.toContain(`"${customer.id}"`)
  expect(readCloudEvent({ ...read.event, data: left }).ok).toBe(true)
})

test('an entry of the ledger keeps what was decided, and loses the values that tell of whom', () => {
  const entry = {
    kind: 'skipped',
    reason: { code: 'exclusion', exclusion: 'e', observed: [{ kind: 'field', field: 'customer.email', value: 'a@b.c' }, { kind: 'field', field: 'order.total', value: 5 }] },
    before: [],
  }
  expect(anonymousEntry(entry)).toEqual({
    ...entry,
    reason: { ...entry.reason, observed: [{ kind: 'field', field: 'customer.email', value: null }, { kind: 'field', field: 'order.total', value: 5 }] },
  })
  expect(anonymousEntry({ kind: 'sent', step: 's', to: 'a@b.c' })).toEqual({ kind: 'sent', step: 's', to: '' })
}) // prettier-ignore
