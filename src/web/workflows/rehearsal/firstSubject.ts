import type { CounterProduct } from '../../../contract/counter.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import type { Trigger } from '../../../core/workflow/trigger.ts'
import { formatInstant, type Instant } from '../../../core/shared/time.ts'

/** Somebody to begin with: new, with one thing, the one that the workflow begins with where it names one, who has said yes to marketing. */
export function firstSubject(now: Instant, products: readonly CounterProduct[], currency: string, trigger: Trigger): Subject {
  const named = JSON.stringify(trigger)
  const own = products.filter((one) => one.currency === currency)
  const product = own.find(({ id }) => named.includes(JSON.stringify(id))) ?? own[0] ?? products[0]
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
