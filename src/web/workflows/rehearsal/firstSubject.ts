import type { CounterProduct } from '../../../contract/counter.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import { formatInstant, type Instant } from '../../../core/shared/time.ts'

/** Somebody to begin with: new, with one thing, who has said yes to marketing. */
export function firstSubject(now: Instant, products: readonly CounterProduct[], currency: string): Subject {
  const product = products.find((one) => one.currency === currency) ?? products[0]
  return {
    at: formatInstant(Math.floor(now / 60_000) * 60_000),
    customer: { firstName: 'Marta', country: null, zone: null, emailConsent: true, smsConsent: true, hasPhone: true, tags: [] },
    earlier: [],
    lines: [lineOf(product)],
    stars: 5,
    dateInDays: 30,
    between: [],
  }
} // prettier-ignore

/** One piece of a product, as an order has it; of something made up where the shop has none yet. */
export function lineOf(product: CounterProduct | undefined): Subject['lines'][number] {
  if (!product) return { productId: 'made-up', title: 'Something', category: null, quantity: 1, unitPriceMinor: 2500 } // prettier-ignore
  const { id, title, category, priceMinor } = product
  return { productId: id, title, category, quantity: 1, unitPriceMinor: priceMinor }
}
