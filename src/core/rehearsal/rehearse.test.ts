import { describe, expect, test } from 'vitest'
import { aDefinition, anEmail, at, happened, on, ordersEver, wait } from '../../testing/builders.ts'
import { facts } from '../../testing/coreFacts.ts'
import type { Definition } from '../workflow/definition.ts'
import type { Trigger } from '../workflow/trigger.ts'
import { RECIPES } from '../recipes/index.ts'
import { EVENT_TYPES } from '../events/eventTypes.ts'
import { readCloudEvent } from '../events/cloudEvent.ts'
import { eventsOf } from './events.ts'
import { rehearse } from './rehearse.ts'
import { messagesOf, stopsOf, waysOf } from './story.ts'
import {
  HAPPENINGS,
  subjectSchema,
  type Happening,
  type Subject,
} from '../workflow/rehearsalSubject.ts'

const SHOP = facts().shop
const subject = (over: Partial<Subject> = {}): Subject =>
  subjectSchema.parse({
    at: '2026-04-14T10:05:00Z',
    customer: { firstName: 'Marta', country: 'NP', zone: 'Asia/Kathmandu', emailConsent: true, smsConsent: null, hasPhone: false, tags: [] },
    earlier: [],
    lines: [{ productId: 'p1', title: 'Hive', category: 'Hives', quantity: 1, unitPriceMinor: 18_900 }],
    stars: 5,
    dateInDays: 30,
    between: [],
    ...over,
  }) // prettier-ignore
const after = (what: Happening['what'], days: number, more: object = {}): Happening => ({
  key: `${what}${days}`,
  what,
  afterMinutes: days * 1440,
  ...more,
})

const followUp = aDefinition({
  trigger: on('order.placed'),
  exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
  steps: [
    { ...wait('nine', 'P9D'), at: '10:00' } as ReturnType<typeof wait>,
    anEmail('goes-with-it'),
    wait('week', 'P7D'),
    anEmail('how-did-it-go'),
  ],
})

test('each message has its moment where they live', () => {
  const told = rehearse(followUp, subject(), SHOP)
  expect(told.zone).toBe('Asia/Kathmandu')
  // 15:50 in Kathmandu, which is 5:45 ahead: nine days on and then the next 10:00 there.
  expect(messagesOf(told)).toEqual([
    { step: 'goes-with-it', at: at('2026-04-24T10:00:00+05:45') },
    { step: 'how-did-it-go', at: at('2026-05-01T10:00:00+05:45') },
  ])
})

test('a refund in between, and they leave at the next message; what comes after is not reached', () => {
  const told = rehearse(followUp, subject({ between: [after('refunded', 11)] }), SHOP)
  const stops = stopsOf(followUp, told)
  expect(stops.get('goes-with-it')?.kind).toBe('sent')
  expect(stops.get('how-did-it-go')).toMatchObject({ kind: 'left', entry: { exclusion: 'refund' } })
  expect(messagesOf(told).map(({ step }) => step)).toEqual(['goes-with-it'])
})

test('who they are decides the path: what they ordered before is known', () => {
  const again = aDefinition({
    trigger: on('order.placed'),
    steps: [
      {
        key: 's',
        kind: 'split',
        branches: [{ key: 'known', name: 'Known', when: ordersEver(3), steps: [anEmail('k')] }],
        otherwise: [anEmail('n')],
      },
    ],
  })
  const earlier = [90, 40].map((daysBefore) => ({ daysBefore, lines: subject().lines }))
  expect(waysOf(rehearse(again, subject(), SHOP))).toEqual([{ step: 's', branch: null }])
  expect(waysOf(rehearse(again, subject({ earlier }), SHOP))).toEqual([{ step: 's', branch: 'known' }]) // prettier-ignore
})

test('opening counts for the last message; a no to marketing is heeded from then on', () => {
  const reads = aDefinition({
    trigger: on('order.placed'),
    steps: [
      anEmail('first'),
      {
        key: 'w',
        kind: 'waitFor',
        event: 'message.opened',
        about: 'customer',
        limit: 'P3D',
        came: [anEmail('came', { purpose: 'marketing' })],
        otherwise: [anEmail('never')],
      },
    ],
  })
  const opened = rehearse(reads, subject({ between: [after('opened', 1)] }), SHOP)
  expect(stopsOf(reads, opened).get('came')?.kind).toBe('sent')
  expect(waysOf(opened)).toEqual([{ step: 'w', branch: 'came' }])
  const no = rehearse(reads, subject({ between: [after('saysNo', 0.5), after('opened', 1)] }), SHOP)
  expect(stopsOf(reads, no).get('came')).toMatchObject({ kind: 'skipped', entry: { reason: { code: 'noConsent' } } }) // prettier-ignore
  const never = rehearse(reads, subject(), SHOP)
  expect(stopsOf(reads, never).get('never')?.kind).toBe('sent')
})

const CURRENCY = 'EUR'
const checked = (definition: Definition, made: Subject) => {
  const { known, coming } = eventsOf(made, definition, CURRENCY)
  return [...known, ...coming].map(({ event }) => {
    const read = readCloudEvent({ specversion: '1.0', source: '/rehearsal', ...event })
    return read.ok ? null : read.problems
  })
}

describe('what is told is what a shop could tell', () => {
  test('of everything that can happen in between', () => {
    const between = HAPPENINGS.map((what, index) => after(what, index, { stars: 4 }))
    const told = checked(followUp, subject({ between }))
    expect(told.filter(Boolean)).toEqual([])
    expect(told).toHaveLength(2 + HAPPENINGS.length)
  })
  test.each(EVENT_TYPES)('of what starts by %s', (event) => {
    const trigger: Trigger = { kind: 'event', event }
    expect(checked(aDefinition({ trigger }), subject()).filter(Boolean)).toEqual([])
  })
})

test('people who are put in by hand come in at the beginning', () => {
  const byHand = aDefinition({ trigger: { kind: 'hand', subject: 'customer' }, steps: [anEmail('m')] }) // prettier-ignore
  expect(messagesOf(rehearse(byHand, subject(), SHOP))).toEqual([{ step: 'm', at: at('2026-04-14T10:05:00Z') }]) // prettier-ignore
})

const RECIPE_SHOP = {
  name: 'Combwright',
  currency: 'EUR',
  sender: { name: 'Maren', address: 'maren@combwright.example' },
  categories: ['Hives', 'Wear', 'Books'],
  groups: ['care'],
  product: { id: 'p1', title: 'Hive' },
}

test.each(RECIPES.map(({ key, make }) => [key, make(RECIPE_SHOP)] as const))('the recipe %s looks at somebody', (_key, definition) => {
  const told = rehearse(definition, subject({ earlier: [{ daysBefore: 200, lines: subject().lines }] }), SHOP)
  expect(told.entries.map(({ entry }) => entry.kind)).toContainEqual(expect.stringMatching(/^(entered|turnedAway)$/))
}) // prettier-ignore
