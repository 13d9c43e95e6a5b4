import type { CartFacts, Facts, LineFacts, OrderFacts, SubscriptionFacts } from '../events/facts.ts'
import { zoneOf } from '../events/facts.ts'
import { formatMoney } from '../shared/money.ts'
import type { Instant } from '../shared/time.ts'
import { dateWords, dayOf } from '../words/quantities.ts'

type Values = Record<string, string | null>

/** The values behind the merge fields for one recipient. Plain text; escaping is the template's. */
export function mergeValues(facts: Facts): Record<string, Values> {
  const { customer, shop, review } = facts
  return {
    customer: {
      first_name: customer.firstName,
      last_name: customer.lastName,
      email: customer.email,
      phone: customer.phone,
    },
    shop: { name: shop.name },
    ...(facts.order && { order: orderValues(facts.order, facts) }),
    ...(facts.line && { line: lineValues(facts.line, facts) }),
    ...(facts.checkout && { checkout: cartValues(facts.checkout, facts) }),
    ...(facts.basket && { basket: cartValues(facts.basket, facts) }),
    ...(facts.subscription && { subscription: subscriptionValues(facts.subscription, facts) }),
    ...(review && { review: { stars: String(review.stars), text: review.text } }),
    ...couponValues(facts),
  }
}

const amount = (amountMinor: number, currency: string, { shop }: Facts): string =>
  formatMoney({ amountMinor, currency }, shop.locale)

const itemLines = (lines: readonly LineFacts[]): string =>
  lines.map((line) => `${line.quantity} × ${line.title}`).join('\n')

/** A day for the recipient: in their zone. */
function dayFor(at: Instant | null, facts: Facts): string | null {
  return at === null ? null : dayOf(at, zoneOf(facts))
}

function orderValues(order: OrderFacts, facts: Facts): Values {
  const dates = order.lines.flatMap(({ startsAt }) => startsAt ?? [])
  const first = dates.length === 0 ? null : Math.min(...dates)
  return {
    number: order.number,
    total: amount(order.totalMinor, order.currency, facts),
    items: itemLines(order.lines),
    placed_on:
      order.placedAt === null ? null : dateWords(order.placedAt, facts.shop.zone, facts.now),
    tracking_url: order.trackingUrl,
    // Where a class takes place the shop's clocks count, not the recipient's.
    first_date: first === null ? null : dateWords(first, facts.shop.zone, facts.now),
  }
}

function lineValues(line: LineFacts, facts: Facts): Values {
  return {
    title: line.title,
    quantity: String(line.quantity),
    starts_at: line.startsAt === null ? null : dateWords(line.startsAt, facts.shop.zone, facts.now),
  }
}

function cartValues(cart: CartFacts, facts: Facts): Values {
  return {
    items: itemLines(cart.lines),
    total: amount(cart.totalMinor, cart.currency, facts),
    url: cart.url,
  }
}

function subscriptionValues(subscription: SubscriptionFacts, facts: Facts): Values {
  const { product } = subscription
  return {
    title: product.title,
    amount: amount(product.unitPriceMinor ?? 0, product.currency ?? facts.shop.currency, facts),
    interval: subscription.interval,
    next_payment_on: dayFor(subscription.nextPaymentAt, facts),
    ends_on: dayFor(subscription.endsAt, facts),
    trial_ends_on: dayFor(subscription.trialEndsAt, facts),
    payment_method: subscription.paymentMethod,
    url: subscription.url,
  }
}

/** The code issued last in this run. */
function couponValues(facts: Facts): Record<string, Values> {
  const coupon = facts.coupons.at(-1)
  if (!coupon) return {}
  return { coupon: { code: coupon.code, expires_on: dayFor(coupon.expiresAt, facts) } }
}
