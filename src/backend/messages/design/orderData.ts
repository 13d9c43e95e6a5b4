import type { OrderStatus } from '../../../core/events/entities.ts'
import type { Facts } from '../../../core/events/facts.ts'
import { decimalAmount } from '../../../core/shared/money.ts'
import { formatInstant } from '../../../core/shared/time.ts'

/** The states of an order in schema.org's words (`OrderStatus`). */
const STATES: Readonly<Record<OrderStatus, string>> = {
  placed: 'OrderProcessing',
  paid: 'OrderProcessing',
  preparing: 'OrderProcessing',
  problem: 'OrderProblem',
  closed: 'OrderDelivered',
  fulfilled: 'OrderInTransit',
  delivered: 'OrderDelivered',
  cancelled: 'OrderCancelled',
  refunded: 'OrderReturned',
  payment_due: 'OrderPaymentDue',
}

/** An order as JSON-LD in the vocabulary of schema.org; nothing without one. */
export function orderData({ order, shop }: Facts): string {
  if (!order) return ''
  const { number, status, currency, totalMinor, placedAt, lines, trackingUrl } = order
  const data = {
    '@context': 'https://schema.org',
    '@type': 'Order',
    seller: { '@type': 'Organization', name: shop.name },
    orderNumber: number,
    orderStatus: `https://schema.org/${STATES[status]}`,
    ...(placedAt === null ? {} : { orderDate: formatInstant(placedAt) }),
    priceCurrency: currency,
    price: decimalAmount({ amountMinor: totalMinor, currency }),
    acceptedOffer: lines.map(({ title, quantity, unitPriceMinor }) => ({
      '@type': 'Offer',
      itemOffered: { '@type': 'Product', name: title },
      ...(unitPriceMinor === null
        ? {}
        : { price: decimalAmount({ amountMinor: unitPriceMinor, currency }) }),
      priceCurrency: currency,
      eligibleQuantity: { '@type': 'QuantitativeValue', value: quantity },
    })),
    ...(trackingUrl === null ? {} : { orderDelivery: { '@type': 'ParcelDelivery', trackingUrl } }),
  }
  // "</script>" in a product's name must not end it.
  const json = JSON.stringify(data).replaceAll('<', String.raw`\u003c`)
  return `<script type="application/ld+json">${json}</script>`
}
