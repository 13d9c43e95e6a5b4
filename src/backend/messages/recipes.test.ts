import { expect, test } from 'vitest'
import type { CartFacts, Facts } from '../../core/events/facts.ts'
import { plainBrand } from '../../core/messages/brand.ts'
import { RECIPES } from '../../core/recipes/index.ts'
import { allSteps } from '../../core/workflow/lists.ts'
import { aLine, facts } from '../../testing/coreFacts.ts'
import { START } from '../../testing/builders.ts'
import type { Product } from '../recommend/index.ts'
import { renderEmail } from './render.ts'

const shop = {
  name: 'Combwright',
  currency: 'EUR',
  sender: { name: 'Maren', address: 'maren@combwright.example' },
  categories: ['Hives & frames', 'Protective wear'],
  groups: [],
  product: { id: 'p1', title: 'Bee brush' },
}
const cart: CartFacts = {
  id: 'x1',
  currency: 'EUR',
  totalMinor: 4200,
  url: null,
  startedAt: null,
  lines: [aLine()],
}
const PRODUCT = {
  id: 'p9',
  title: 'Veil',
  url: null,
  imageUrl: null,
  priceMinor: 3000,
  currency: 'EUR',
} as Product

/** Of whom as little is known as may be: everything that can be unknown is. */
const BARE = { firstName: null, lastName: null, phone: null, language: null, zone: null }
const about = (): Facts =>
  facts({
    customer: BARE,
    coupons: [{ step: 'c', code: 'BEE-123456', expiresAt: START }],
    order: { paymentMethod: null },
    checkout: cart,
    basket: cart,
    line: aLine(),
    subscription: {
      id: 's1',
      status: 'running',
      product: aLine({ title: 'Bee feed, monthly' }),
      interval: 'month',
      automatic: true,
      paymentMethod: null,
      startedAt: START,
      nextPaymentAt: null,
      endsAt: null,
      trialEndsAt: null,
      url: null,
    },
  })

const emails = RECIPES.flatMap(({ key, make }) =>
  allSteps(make(shop).steps).flatMap((step) =>
    step.kind === 'email' ? [{ id: `${key}: ${step.name}`, step }] : [],
  ),
)

test.each(emails)('$id is ready to be sent, also to somebody hardly known', async ({ step }) => {
  const { subject, text, html } = await renderEmail(step, about(), {
    brand: plainBrand('Combwright'),
    publicUrl: 'https://yomble.example',
    unsubscribeUrl: 'https://x.example/u/1',
    holds: () => true,
    productsOf: async () => [PRODUCT],
    looksOf: async () => new Map(),
    keptOf: async () => new Map(),
  })
  expect(subject).not.toBe('')
  expect(text).toContain('Hello there,')
  expect(text).toContain('Maren')
  // What a person writes by hand is plain; all else is in the shop's brand.
  expect(html === null ? 'plain' : 'designed').toBe(step.format)
  expect(`${subject}${text}${html ?? ''}`).not.toMatch(/\{\{|undefined|null/)
})
