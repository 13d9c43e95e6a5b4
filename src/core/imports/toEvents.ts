import type { EventType } from '../events/eventTypes.ts'
import { minorDigits } from '../shared/money.ts'
import { formatInstant, type Instant } from '../shared/time.ts'
import { readCell, type CellFormat, type CellValue } from './cells.ts'
import { TARGETS, type ImportKind, type Mapping } from './kinds.ts'

/** A row of a file that tells something, by its place in the file (the first behind the heads is 1). */
export interface FileRow {
  place: number
  cells: readonly string[]
}

export interface RowProblem {
  place: number
  /** The target that it is about; null for the row as a whole. */
  at: string | null
  message: string
}

/** What a row tells, by target. */
export type Told = Record<string, CellValue>

/** Reads the cells of a row. */
export function readRow(
  kind: ImportKind,
  mapping: Mapping,
  format: CellFormat,
  { place, cells }: FileRow,
): { told: Told; problems: RowProblem[] } {
  const told: Told = {}
  const problems: RowProblem[] = []
  for (const { key, type, label, isNeeded } of TARGETS[kind]) {
    const column = mapping[key]
    if (column === undefined) continue
    const read = readCell(cells[column] ?? '', type, format)
    if (!read.ok) problems.push({ place, at: key, message: `${label} ${read.message}` })
    else if (read.value === null && isNeeded)
      problems.push({ place, at: key, message: `${label} is missing` }) // prettier-ignore
    else told[key] = read.value
  }
  return { told, problems }
}

/** Something that a file tells, made of one row or of several. */
export type Made =
  | { kind: 'event'; event: object; places: number[] }
  | { kind: 'product'; product: Told; places: number[] }
  | { kind: 'suppression'; told: Told; places: number[] }

interface Making {
  kind: ImportKind
  currency: string
  /** Names the file's events, the same for the same rows of the same kind. */
  source: string
  now: Instant
}

const text = (value: CellValue | undefined): string | undefined =>
  typeof value === 'string' ? value : undefined

/** The id that somebody has: the shop's, else their address stands for it. */
const idOf = (told: Told, key: string): string | undefined =>
  text(told[key]) ?? (text(told['email']) === undefined ? undefined : `email:${text(told['email'])?.toLowerCase()}`) // prettier-ignore

const PERSON = ['email', 'firstName', 'lastName', 'phone', 'country', 'language', 'zone', 'birthday', 'emailConsent', 'smsConsent', 'tags'] as const // prettier-ignore

function customerOf(told: Told, id: string): object {
  const known = PERSON.filter((key) => told[key] !== undefined && told[key] !== null)
  return { id, ...Object.fromEntries(known.map((key) => [key, told[key]])) }
}

/** What rows that belong together tell; several only for the lines of one order. Throws nothing: what is wrong is found when it is read. */
export function madeOf(
  { kind, currency, source, now }: Making,
  rows: readonly { place: number; told: Told }[],
): Made | RowProblem {
  const [first] = rows
  if (!first) throw new RangeError('Nothing is made of no rows')
  const { place, told } = first
  const places = rows.map((row) => row.place)
  const nobody: RowProblem = { place, at: null, message: 'names nobody: an id or an address is needed' } // prettier-ignore
  const event = (type: string, id: string, at: CellValue | undefined, data: object): Made => ({
    kind: 'event',
    places,
    event: { specversion: '1.0', id, source, type, time: formatInstant(typeof at === 'number' ? at : now), data },
  }) // prettier-ignore
  switch (kind) {
    case 'products':
      return { kind: 'product', product: { ...told, price: minorOf(told['price'], currencyOf(told, currency)) }, places }
    case 'suppressions':
      return { kind: 'suppression', told, places }
    case 'customers': {
      const id = idOf(told, 'id')
      if (id === undefined) return nobody
      const type = told['createdAt'] ? 'customer.created' : 'customer.changed'
      return event(type, `customer ${id} ${stamp(told)}`, told['createdAt'], { customer: customerOf(told, id) }) // prettier-ignore
    }
    case 'consents':
      return consentOf(told, event) ?? nobody
    case 'subscriptions':
      return subscriptionOf(told, currency, event) ?? nobody
    case 'orders': {
      const customerId = idOf(told, 'customerId')
      if (customerId === undefined) return nobody
      const order = orderOf(rows.map((row) => row.told), customerId, currency) // prettier-ignore
      return event('order.placed', `order ${orderIdOf(told)}`, told['placedAt'], { order, customer: customerOf(told, customerId) }) // prettier-ignore
    }
  }
} // prettier-ignore

const currencyOf = (told: Told, shops: string): string =>
  text(told['currency'])?.toUpperCase() ?? shops

/** What was read in hundredths, in the smallest unit of its currency: yen have none smaller, dinars have thousandths. */
function minorOf(hundredths: CellValue | undefined, currency: string): number | null {
  if (typeof hundredths !== 'number') return null
  return /^[A-Z]{3}$/.test(currency)
    ? Math.round((hundredths / 100) * 10 ** minorDigits(currency))
    : hundredths
}

type MakeEvent = (type: string, id: string, at: CellValue | undefined, data: object) => Made

function consentOf(told: Told, event: MakeEvent): Made | null {
  const customerId = idOf(told, 'customerId')
  if (customerId === undefined) return null
  const channel = text(told['channel'])?.toLowerCase().startsWith('s') ? 'sms' : 'email'
  const consent = { customerId, channel, given: told['given'], how: text(told['how']) ?? 'brought in from a file' } // prettier-ignore
  const email = text(told['email'])
  return event('consent.changed', `consent ${customerId} ${stamp(told)}`, told['at'], { consent, ...(email && { customer: { id: customerId, email } }) }) // prettier-ignore
}

function subscriptionOf(told: Told, currency: string, event: MakeEvent): Made | null {
  const customerId = idOf(told, 'customerId')
  if (customerId === undefined) return null
  const moment = (key: string) => {
    const at = told[key]
    return typeof at === 'number' ? { [key]: formatInstant(at) } : {}
  }
  const own = currencyOf(told, currency)
  const subscription = {
    id: told['id'],
    customerId,
    status: text(told['status'])?.toLowerCase() ?? 'running',
    productId: told['productId'],
    title: told['title'],
    amountMinor: minorOf(told['amount'], own),
    currency: own,
    interval: text(told['interval']) ?? 'month',
    ...moment('startedAt'),
    ...moment('nextPaymentAt'),
    ...moment('endsAt'),
  }
  return event('subscription.created', `subscription ${String(told['id'])} ${stamp(told)}`, told['startedAt'], { subscription, customer: customerOf(told, customerId) }) // prettier-ignore
}

/** The id of an order: its own, else its number. */
export const orderIdOf = (told: Told): string => text(told['id']) ?? text(told['number']) ?? ''

function orderOf(lines: readonly Told[], customerId: string, currency: string): object {
  const [told = {}] = lines
  const own = currencyOf(told, currency)
  const optional = (...keys: string[]) => Object.fromEntries(keys.filter((key) => told[key] !== undefined && told[key] !== null).map((key) => [key, told[key]])) // prettier-ignore
  return {
    id: orderIdOf(told),
    number: told['number'],
    customerId,
    currency: own,
    totalMinor: minorOf(told['total'], own),
    ...optional('shippingCountry', 'paymentMethod', 'couponCodes'),
    lines: lines.map((line) => ({
      productId: line['productId'] ?? line['title'],
      title: line['title'],
      ...(line['category'] ? { category: line['category'] } : {}),
      ...(line['variant'] ? { variant: line['variant'] } : {}),
      quantity: line['quantity'] ?? 1,
      unitPriceMinor: minorOf(line['unitPrice'], own) ?? 0,
    })),
  }
}

/** What a status of an order amounts to, besides having been placed. */
const LATER: Readonly<Record<string, EventType>> = {
  paid: 'order.paid',
  fulfilled: 'order.fulfilled',
  shipped: 'order.fulfilled',
  delivered: 'order.delivered',
  completed: 'order.completed',
  closed: 'order.completed',
  cancelled: 'order.cancelled',
  canceled: 'order.cancelled',
  refunded: 'order.refunded',
}

/** The event by which an order came to stand as it does; null where it was only placed. */
export const laterStatus = (told: Told): EventType | null =>
  LATER[text(told['status'])?.toLowerCase() ?? ''] ?? null

/** A short digest of what is told: rows that say something new of the same thing are new, the same rows are not. */
function stamp(told: Told): string {
  let hash = 0x811c9dc5
  for (const unit of JSON.stringify(Object.entries(told).toSorted(([a], [b]) => (a < b ? -1 : 1)))) {
    hash = Math.imul(hash ^ (unit.codePointAt(0) ?? 0), 0x01000193) >>> 0
  }
  return hash.toString(36)
} // prettier-ignore
