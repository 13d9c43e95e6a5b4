import { DAY_MS } from '../core/shared/duration.ts'
import { seededRandom } from '../core/shared/seededRandom.ts'
import type { Instant } from '../core/shared/time.ts'
import { aCustomer, aDefinition, anEmail, anOrder, eventOf, START } from './builders.ts'

/** What is bought again and again. */
export const PRODUCTS = {
  pellets: { productId: 'pellets', title: 'Smoker pellets', category: 'Tools & smokers' },
  syrup: { productId: 'syrup', title: 'Autumn syrup', category: 'Feed & health' },
  fondant: { productId: 'fondant', title: 'Winter fondant', category: 'Feed & health' },
}
export type Product = keyof typeof PRODUCTS

let orders = 0
export const orderOf = (customerId: string, products: readonly Product[]) => {
  orders += 1
  const lines = products.map((one) => ({ ...PRODUCTS[one], quantity: 1, unitPriceMinor: 1100 }))
  return anOrder({ id: `o${orders}`, number: `${orders}`, customerId, lines })
}
export const known = (id: string) =>
  eventOf('customer.created', START - 900 * DAY_MS, {
    customer: aCustomer({ id, email: `${id}@example.org` }),
  })
export const placed = (customerId: string, at: Instant, ...products: Product[]) =>
  eventOf('order.placed', at, { order: orderOf(customerId, products) })

/** Sixty people who buy pellets at rhythms of their own, about every forty days, for a year. */
export function pelletBuyers(): object[] {
  const random = seededRandom(3)
  return Array.from({ length: 60 }, (_, index) => {
    const id = `b${index}`
    const rhythm = 25 + 30 * random.next()
    const events: object[] = [known(id)]
    for (let at = START - 360 * DAY_MS; at < START - 2 * DAY_MS;) {
      events.push(placed(id, at, 'pellets'))
      at += Math.round(rhythm * (0.85 + 0.3 * random.next()) * DAY_MS)
    }
    return events
  }).flat()
}

/** Asks three days before they are expected to order it again. */
export const pelletReminder = aDefinition({
  trigger: { kind: 'date', field: 'line.reorderAt', direction: 'before', days: 3, at: '09:00', zone: 'shop' },
  steps: [anEmail('ask', { purpose: 'transactional', subject: 'More {{ line.title }}?', body: 'On {{ line.reorder_on | default: "soon" }}.' })],
}) // prettier-ignore
