import { describe, expect, test } from 'vitest'
import type { OrderData } from '../core/events/entities.ts'
import { readCloudEvent } from '../core/events/cloudEvent.ts'
import { goLiveFindings } from '../core/check/goLive.ts'
import { definitionSchema } from '../core/workflow/definition.ts'
import { localTime } from '../core/shared/time.ts'
import { PRODUCTS } from './catalogue.ts'
import type { DemoEvent } from './demoEvent.ts'
import { DEMO_START, makeHistory, ZONE } from './history.ts'
import { DRAFT_WORKFLOW, LIVE_WORKFLOWS } from './workflows/index.ts'

const history = makeHistory()
const orderOf = ({ event }: DemoEvent): OrderData => (event.data as { order: OrderData }).order
const ofType = (type: string) => history.filter(({ event }) => event.type === type)
const placed = ofType('order.placed').map(orderOf)
const share = (type: string) => ofType(type).length / placed.length

describe('the demo shop’s year', () => {
  test('is the same on every machine', () => {
    expect(makeHistory()).toEqual(history)
  })
  test('has events that are all valid, in order, up to the start of the clock', () => {
    // They are written down without being read once more, so nothing of them may be left out or turned.
    for (const { event } of history) {
      const { data } = event
      expect(readCloudEvent(event)).toEqual({ ok: true, event: { ...event, data }, ignored: [] })
    }
    expect(
      history.every(({ at }, index) => index === 0 || at >= (history[index - 1]?.at ?? 0)),
    ).toBe(true)
    expect(localTime(DEMO_START, ZONE)).toMatchObject({
      year: 2026,
      month: 4,
      day: 14,
      hour: 10,
      minute: 20,
      weekday: 2,
    })
    expect(new Set(history.map(({ event }) => event.id)).size).toBe(history.length)
  })
  test('has the size of a shop', () => {
    expect(placed.length).toBeGreaterThan(10_000)
    expect(PRODUCTS.length).toBeGreaterThanOrEqual(50)
    expect(ofType('customer.created').length).toBeGreaterThan(3900)
  })
  test('has its share of trouble', () => {
    expect(share('order.refunded')).toBeGreaterThan(0.03)
    expect(share('order.refunded')).toBeLessThan(0.05)
    expect(share('order.cancelled')).toBeGreaterThan(0.01)
    expect(share('order.cancelled')).toBeLessThan(0.03)
    expect(share('order.payment_failed')).toBeGreaterThan(0.02)
  })
  test('has visits that come to nothing, subscriptions in every state, and reviews', () => {
    const ordered = placed.length / ofType('checkout.started').length
    expect(ordered).toBeGreaterThan(0.9)
    expect(ofType('basket.item_added').length).toBeGreaterThan(ofType('checkout.started').length)
    expect(ofType('subscription.created').length).toBe(420)
    for (const type of ['renewed', 'payment_failed', 'status_changed', 'trial_ended']) {
      expect(ofType(`subscription.${type}`).length).toBeGreaterThan(15)
    }
    const stars = ofType('review.submitted').map(
      ({ event }) => (event.data as { review: { stars: number } }).review.stars,
    )
    expect(new Set(stars)).toEqual(new Set([1, 2, 3, 4, 5]))
  })
  test('has the odd ones: thirty lines, forty orders, other currencies, no first name, another script', () => {
    expect(placed.filter(({ lines }) => lines.length === 30)).toHaveLength(1)
    const perPerson = countBy(placed.map(({ customerId }) => customerId))
    expect(Math.max(...perPerson.values())).toBeGreaterThanOrEqual(40)
    expect(new Set(placed.map(({ currency }) => currency))).toEqual(new Set(['EUR', 'CHF', 'JPY']))
    const people = ofType('customer.created').map(
      ({ event }) =>
        (
          event.data as {
            customer: { firstName: string | null; country: string; zone: string | null }
          }
        ).customer,
    )
    expect(people.some(({ firstName }) => firstName === null)).toBe(true)
    expect(people.some(({ firstName }) => firstName === '美咲')).toBe(true)
    expect(new Set(people.map(({ country }) => country)).size).toBeGreaterThanOrEqual(12)
    expect(new Set(people.flatMap(({ zone }) => zone ?? [])).size).toBeGreaterThanOrEqual(9)
  })
  test('has the trade’s seasons: hives in spring, feed in autumn', () => {
    const soldIn = (category: string, months: number[]) =>
      ofType('order.placed')
        .filter(({ at }) => months.includes(localTime(at, ZONE).month))
        .flatMap((one) => orderOf(one).lines)
        .filter((line) => line.category === category).length
    expect(soldIn('Hives & frames', [3, 4, 5])).toBeGreaterThan(
      3 * soldIn('Hives & frames', [9, 10, 11]),
    )
    expect(soldIn('Feed & health', [8, 9, 10])).toBeGreaterThan(
      3 * soldIn('Feed & health', [4, 5, 6]),
    )
  })
})

function countBy(keys: readonly string[]): Map<string, number> {
  const counts = new Map<string, number>()
  for (const key of keys) counts.set(key, (counts.get(key) ?? 0) + 1)
  return counts
}

describe('the demo’s workflows', () => {
  test.each(LIVE_WORKFLOWS.map((one) => [one.name, one] as const))(
    '%s is ready to go live',
    (_name, definition) => {
      expect(definitionSchema.safeParse(definition).success).toBe(true)
      expect(goLiveFindings(definition)).toEqual([])
    },
  )
  test('one draft has mistakes on purpose, which the check finds', () => {
    expect(goLiveFindings(DRAFT_WORKFLOW).map(({ code }) => code)).toEqual([
      'field-customer.first_name',
      'field-customer.firstname',
      'missing-exclusion-order.cancelled',
      'missing-exclusion-order.refunded',
    ])
  })
})
