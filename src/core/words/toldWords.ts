import type { EventData } from '../events/cloudEvent.ts'
import { ORDER_STATUSES, SUBSCRIPTION_STATUSES } from '../events/entities.ts'
import type { EventType } from '../events/eventTypes.ts'
import { formatMoney } from '../shared/money.ts'
import type { WordContext } from './conditions.ts'
import { EVENT_WORDS } from './eventWords.ts'
import { capitalized, plural } from './quantities.ts'

/** Something the shop told of a person, as a line of their life: "Order placed: 10234, €45.00, 3 items". */
export function toldWords(type: EventType, data: EventData, context: WordContext): string {
  const about = aboutWords(type, data, context)
  return `${capitalized(EVENT_WORDS[type].label)}${about === '' ? '' : `: ${about}`}`
}

function aboutWords(type: EventType, data: EventData, context: WordContext): string {
  const { locale } = context
  if ('order' in data) {
    const { number, totalMinor: amountMinor, currency, lines } = data.order
    const status = type === 'order.status_changed' ? statusOf(data) : null
    const items = plural(lines.reduce((sum, { quantity }) => sum + quantity, 0), 'item') // prettier-ignore
    return joined(number, formatMoney({ amountMinor, currency }, locale), items, status)
  }
  if ('checkout' in data || 'basket' in data) {
    const { totalMinor: amountMinor, currency, lines } = 'checkout' in data ? data.checkout : data.basket // prettier-ignore
    return joined(formatMoney({ amountMinor, currency }, locale), lines[0]?.title, lines.length > 1 ? `and ${lines.length - 1} more` : null) // prettier-ignore
  }
  if ('subscription' in data) {
    const { title, status } = data.subscription
    return joined(title, SUBSCRIPTION_STATUSES[status])
  }
  if ('review' in data) {
    const { stars, title, text } = data.review
    return joined(plural(stars, 'star'), title, text ? `“${short(text)}”` : null)
  }
  if ('product' in data) return data.product.title
  if ('consent' in data) {
    const { channel, given, how } = data.consent
    const way = channel === 'email' ? 'email' : 'text message'
    return joined(`${given ? 'yes' : 'no'} to marketing by ${way}`, how)
  }
  if ('message' in data) {
    const { url, permanent } = data.message
    return joined(url, permanent === true ? 'the address does not exist' : null)
  }
  return ''
}

function statusOf(data: EventData): string | null {
  if (!('from' in data) || typeof data.from !== 'string') return null
  const from = data.from
  return from in ORDER_STATUSES
    ? `was ${ORDER_STATUSES[from as keyof typeof ORDER_STATUSES]}`
    : null
}

const joined = (...parts: (string | null | undefined)[]): string =>
  parts.filter((part) => part !== null && part !== undefined && part !== '').join(', ')

const MOST = 80
const short = (text: string): string =>
  text.length > MOST ? `${text.slice(0, MOST).trimEnd()} …` : text
