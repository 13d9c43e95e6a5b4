import { expect, test } from 'vitest'
import { redemption, type IssuedCoupon } from './redeem.ts'

const coupon = (over: Partial<IssuedCoupon> = {}): IssuedCoupon => ({
  code: 'BEE-1',
  customerId: 'c1',
  discount: { kind: 'percent', percent: 10 },
  minimum: undefined,
  categories: [],
  maxUses: 1,
  expiresAt: 1000,
  ...over,
})
const order = {
  now: 999,
  customerId: 'c1',
  currency: 'EUR',
  used: 0,
  lines: [
    { category: 'Hives', quantity: 2, unitPriceMinor: 1005 },
    { category: null, quantity: 1, unitPriceMinor: 500 },
  ],
}
const euros = (amountMinor: number) => ({ amountMinor, currency: 'EUR' })

test.each<[string, Partial<IssuedCoupon>, Partial<typeof order>, number | string]>([
  ['a percentage of everything', {}, {}, 251],
  ['half a cent is rounded up', {}, { lines: [{ category: null, quantity: 1, unitPriceMinor: 2505 }] }, 251],
  ['less than half is not', {}, { lines: [{ category: null, quantity: 1, unitPriceMinor: 2504 }] }, 250],
  ['of one category', { categories: ['Hives'] }, {}, 201],
  ['an amount', { discount: { kind: 'amount', amount: euros(300) } }, {}, 300],
  ['never more than there is', { discount: { kind: 'amount', amount: euros(9000) } }, {}, 2510],
  ['the least is reached', { minimum: euros(2510) }, {}, 251],
  ['it is not', { minimum: euros(2511) }, {}, 'belowMinimum'],
  ['not in the category', { categories: ['Hives'], minimum: euros(2100) }, {}, 'belowMinimum'],
  ['nothing counts', { categories: ['Books'] }, {}, 'nothingCounts'],
  ['somebody else’s', {}, { customerId: 'c2' }, 'somebodyElses'],
  ['at its very end', {}, { now: 1000 }, 'expired'],
  ['it never ends', { expiresAt: null }, { now: 1e15 }, 251],
  ['used up', {}, { used: 1 }, 'usedUp'],
  ['as often as they like', { maxUses: null }, { used: 50 }, 251],
  ['another currency', { discount: { kind: 'amount', amount: { amountMinor: 1, currency: 'CHF' } } }, {}, 'otherCurrency'],
  ['a least in another currency', { minimum: { amountMinor: 1, currency: 'JPY' } }, {}, 'otherCurrency'],
])('%s', (_name, over, of, expected) => {
  const found = redemption(coupon(over), { ...order, ...of })
  expect(found.ok ? found.offMinor : found.refusal.code).toBe(expected)
}) // prettier-ignore
