import { HOUR_MS, MINUTE_MS, SECOND_MS } from '../../core/shared/duration.ts'
import type { Random } from '../../core/shared/seededRandom.ts'

/**
 * What the people of the demo do of a message. These are the truths that the figures on the screens can be
 * held against; they are told in docs/demo.md.
 */
export interface Pull {
  /** How many of those who have got it order because of it, beside those who would have anyway. */
  orders?: number
  /** The longest time until such an order, in hours. */
  withinHours?: number
  /** How many leave a review because of it. */
  reviews?: number
}

/** By the workflow's name and the message's key. A message that is not here changes nothing. */
const PULLS: Readonly<Record<string, Readonly<Record<string, Pull>>>> = {
  'Open checkout': {
    'by-hand': { orders: 0.2, withinHours: 60 },
    'soon-mail': { orders: 0.13, withinHours: 20 },
    'later-mail': { orders: 0.12, withinHours: 20 },
    'with-coupon': { orders: 0.11, withinHours: 48 },
    last: { orders: 0.05, withinHours: 48 },
    text: { orders: 0.06, withinHours: 10 },
  },
  'Open basket': { kept: { orders: 0.06, withinHours: 40 } },
  'Two quiet months': { 'still-there': { orders: 0.18, withinHours: 20 * 24 } },
  'After dispatch': {
    'a-feeder': { orders: 0.05, withinHours: 6 * 24 },
    gloves: { orders: 0.05, withinHours: 6 * 24 },
    refill: { orders: 0.08, withinHours: 6 * 24 },
  },
  'Thanks for a review': {
    'thank-you': { orders: 0.04, withinHours: 12 * 24 },
    'thank-you-code': { orders: 0.1, withinHours: 3 * 24 },
  },
  'Review request': {
    'ask-early': { reviews: 0.24 },
    'ask-late': { reviews: 0.05 },
  },
}

export const pullOf = (workflow: string, step: string): Pull => PULLS[workflow]?.[step] ?? {}

/** How people read: of those who get a mail. */
const OPENS = { transactional: 0.64, marketing: 0.36 } as const
const CLICKS_OF_OPENED = { transactional: 0.22, marketing: 0.16 } as const
/** Mail programs that fetch pictures by themselves, within seconds. */
const FETCHED = 0.16
/** Programs that follow every link of a mail before anybody reads it. */
const SCANNED = 0.03
const RETURNED = 0.004
const UNSUBSCRIBED = 0.011
const COMPLAINED = 0.0004
/** Of those who have read it. */
const ANSWERED = 0.012

/** What somebody does with one mail: milliseconds after it has left; null for what they do not do. */
export interface Reading {
  returnedAfter: number | null
  openedAfter: number | null
  /** Each click with the place of its link among those of the message. */
  clicks: { after: number; link: number }[]
  unsubscribedAfter: number | null
  complainedAfter: number | null
  repliedAfter: number | null
}

/** How somebody reads a mail with some links. */
export function readsMail(random: Random, isMarketing: boolean, links: number): Reading {
  const kind = isMarketing ? 'marketing' : 'transactional'
  const reading: Reading = {
    returnedAfter: null,
    openedAfter: null,
    clicks: [],
    unsubscribedAfter: null,
    complainedAfter: null,
    repliedAfter: null,
  }
  if (random.chance(RETURNED))
    return { ...reading, returnedAfter: random.between(2, 50) * MINUTE_MS }
  if (random.chance(FETCHED)) reading.openedAfter = random.between(1, 8) * SECOND_MS
  if (links > 1 && random.chance(SCANNED)) {
    const after = random.between(2, 6) * SECOND_MS
    reading.clicks = Array.from({ length: links }, (_, link) => ({
      after: after + link * 300,
      link,
    }))
  }
  if (!random.chance(OPENS[kind])) return reading
  const readAfter = untilRead(random)
  reading.openedAfter ??= readAfter
  if (links > 0 && random.chance(CLICKS_OF_OPENED[kind])) {
    // The first link is followed most.
    const link = random.weighted([...Array(links).keys()], (one) => 1 / (one + 1))
    reading.clicks.push({ after: readAfter + random.between(10, 180) * SECOND_MS, link })
  }
  if (isMarketing && random.chance(UNSUBSCRIBED)) reading.unsubscribedAfter = readAfter + MINUTE_MS
  else if (isMarketing && random.chance(COMPLAINED)) reading.complainedAfter = readAfter + MINUTE_MS
  if (random.chance(ANSWERED)) reading.repliedAfter = readAfter + random.between(2, 90) * MINUTE_MS
  return reading
}

/** Half of those who read do within four hours; some take two days. */
function untilRead(random: Random): number {
  const hours = Math.min(48, -Math.log(1 - random.next()) * 5.8)
  return Math.round(hours * HOUR_MS) + 20 * SECOND_MS
}
