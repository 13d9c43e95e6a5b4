import { afterEach, beforeEach, expect, test } from 'vitest'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { CouponStep, Step } from '../../core/workflow/steps.ts'
import { aDefinition, anEmail, on, orderEvent, START } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { isHeldOut } from '../../core/workflow/shopHoldout.ts'
import { placeOrder, saveHoldout } from '../shop/index.ts'
import { codesSince, couponReport, whoWaits } from './index.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const coupon = (over: Partial<CouponStep> = {}): Step => ({
  key: 'code',
  kind: 'coupon',
  name: 'Ten per cent',
  pattern: 'BEE-######',
  discount: { kind: 'percent', percent: 10 },
  expiresAfter: 'P2D',
  ...over,
})
const publish = (over: Partial<CouponStep> = {}) =>
  world.publish(
    aDefinition({
      trigger: on('order.placed'),
      steps: [coupon(over), anEmail('m', { body: 'Yours: {{ coupon.code }}' })],
    }),
  )
const order = (id: string, customerId: string, days = 0, over: object = {}) =>
  orderEvent('order.placed', START + days * DAY_MS, { id, number: id, customerId, ...over }, { id: customerId, email: `${customerId}@example.org` }) // prettier-ignore
const codes = () => codesSince(world.db, SHOP, 0, 100)
/** An order at the counter, of two brushes, as the events made the product known. */
const buy = (customerId: string, code: string) =>
  placeOrder(world.db, SHOP, { customer: { id: customerId }, lines: [{ productId: 'p1', quantity: 2 }], code }) // prettier-ignore
/** A refusal that says why, at the field of the code. */
const because = (why: RegExp, code = expect.any(String) as string) => ({
  code: 'bad_input',
  problems: [{ path: 'code', code, message: expect.stringMatching(why) as string }],
})

test('everyone has a code of their own; it is redeemed by an order that names it', async () => {
  const id = await publish()
  await world.post(order('1', 'c1'), order('2', 'c2'))
  const issued = await codes()
  const codeOf = (who: string) => issued.find(({ customerId }) => customerId === who)?.code ?? ''
  const [one, two] = [codeOf('c1'), codeOf('c2')]
  expect(one).not.toBe(two)
  await expect(buy('c2', one)).rejects.toMatchObject(because(/somebody else/))
  await expect(buy('c1', 'NONE-1')).rejects.toMatchObject(because(/no such code/))
  await buy('c1', one.toLowerCase())
  await expect(buy('c1', one)).rejects.toMatchObject(because(/as often/))
  await world.moveTo(START + 3 * DAY_MS)
  await expect(buy('c2', two)).rejects.toMatchObject(because(/expired/, 'expired'))
  const [report] = await couponReport(world.db, SHOP, START + 3 * DAY_MS)
  expect(report).toMatchObject({
    workflowId: id,
    step: 'code',
    // The order with the code had one issued as well.
    issued: 3,
    redeemed: 1,
    expired: 2,
  })
  expect(report?.revenueMinor).toBeGreaterThan(0)
})

test('a code without # is shared by all, as often as they like or as it says', async () => {
  await publish({ pattern: 'SPRING', maxUses: 2 })
  await world.post(order('1', 'c1'), order('2', 'c2'), order('3', 'c3'))
  expect((await codes()).map(({ code }) => code)).toEqual(['SPRING', 'SPRING', 'SPRING'])
  await buy('c1', 'spring')
  await buy('c2', 'SPRING')
  await expect(buy('c3', 'SPRING')).rejects.toMatchObject(because(/as often/))
  const mails = await world.mails()
  expect(mails.every(({ snippet }) => snippet.includes('SPRING'))).toBe(true)
})

test('its terms go with it, to the shop’s own system too', async () => {
  await publish({ minimum: { amountMinor: 1_000_000, currency: 'EUR' }, categories: ['Hives'] })
  await world.post(order('1', 'c1'))
  const [one] = await codes()
  expect(one?.terms).toEqual({
    minimum: { amountMinor: 1_000_000, currency: 'EUR' },
    categories: ['Hives'],
    maxUses: 1,
  })
  await expect(buy('c1', one?.code ?? '')).rejects.toMatchObject(because(/Nothing in the order/))
})

test('those who order with codes only seem to wait for them; one order without, and they do not', async () => {
  await publish({ expiresAfter: 'P30D' })
  await world.post(order('1', 'c1'))
  const [first] = await codes()
  await world.moveTo(START + DAY_MS)
  await world.post(order('2', 'c1', 1, { couponCodes: [first?.code] }))
  const second = (await codes()).at(-1)
  await world.moveTo(START + 2 * DAY_MS)
  await world.post(order('3', 'c1', 2, { couponCodes: [second?.code] }))
  expect(await whoWaits(world.db, SHOP, START + 3 * DAY_MS)).toMatchObject([
    { customerId: 'c1', redeemed: 2 },
  ])
  await world.moveTo(START + 3 * DAY_MS)
  await world.post(order('4', 'c1', 3))
  expect(await whoWaits(world.db, SHOP, START + 3 * DAY_MS)).toEqual([])
})

test('a code that was used says how soon, by whom, and what it took off', async () => {
  await publish({ expiresAfter: 'P30D' })
  await world.post(order('1', 'c1'), orderEvent('order.placed', START, { id: '2', number: '2', customerId: 'c2' }, { id: 'c2', email: 'c2@example.org' })) // prettier-ignore
  const [first] = await codes()
  await world.moveTo(START + 2 * DAY_MS)
  const line = { productId: 'p', title: 'Brush', category: 'Tools', quantity: 2, unitPriceMinor: 1500 } // prettier-ignore
  await world.post(order('3', first?.customerId ?? '', 2, { couponCodes: [first?.code], totalMinor: 2700, lines: [line] })) // prettier-ignore
  const now = START + 40 * DAY_MS
  await world.moveTo(now)
  const [report] = await couponReport(world.db, SHOP, now)
  expect(report).toMatchObject({
    redeemed: 1,
    within: [0, 1, 1, 1],
    firstOrders: 0,
    givenAwayMinor: 300,
    // By the first code of each: one ordered again in 30 days.
    anyway: { got: { people: 2, ordered: 1 }, heldOut: { people: 0, ordered: 0 } },
  })
})

test('who is held out of the message that brings a code shows who orders anyway', async () => {
  await world.publish(
    aDefinition({
      trigger: on('order.paid'),
      steps: [coupon(), anEmail('m', { body: '{{ coupon.code }}', purpose: 'marketing' })],
    }),
  )
  const people = Array.from({ length: 12 }, (_, index) => `c${index}`)
  const paid = (id: string) => orderEvent('order.paid', START, { id, number: id, customerId: id }, { id, email: `${id}@example.org`, emailConsent: true }) // prettier-ignore
  await saveHoldout(world.db, SHOP, { percent: 50 })
  const held = people.filter((id) =>
    isHeldOut({ percent: 50, since: START }, { id, lists: [] }, START),
  )
  await world.post(...people.map((id) => paid(id)))
  await world.moveTo(START + DAY_MS)
  await world.post(order('again', held[0] ?? '', 1))
  const now = START + 31 * DAY_MS
  await world.moveTo(now)
  const [report] = await couponReport(world.db, SHOP, now)
  expect(report).toMatchObject({
    issued: people.length - held.length,
    anyway: {
      got: { people: people.length - held.length, ordered: 0 },
      heldOut: { people: held.length, ordered: 1 },
    },
  })
})
