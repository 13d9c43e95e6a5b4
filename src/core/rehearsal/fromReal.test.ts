import { expect, test } from 'vitest'
import { aDefinition, anEmail, eventOf, orderEvent, START, wait } from '../../testing/builders.ts'
import { facts } from '../../testing/coreFacts.ts'
import type { EventData } from '../events/cloudEvent.ts'
import type { EventType } from '../events/eventTypes.ts'
import type { ToldEvent } from '../life/lived.ts'
import { DAY_MS } from '../shared/duration.ts'
import { parseInstant } from '../shared/time.ts'
import { likenesses } from './fromReal.ts'
import { rehearse } from './rehearse.ts'
import { messagesOf } from './story.ts'
import { changed } from './subjectChanges.ts'

const told = (event: object, index: number): ToldEvent => {
  const { type, time, data } = event as { type: EventType; time: string; data: EventData }
  return { at: parseInstant(time) ?? 0, event: { id: `e${index}`, type, data } }
}
const who = { id: 'c1', email: 'ines@example.org', firstName: 'Ines', zone: 'Asia/Kathmandu', country: 'NP', emailConsent: true, tags: ['wholesale'] } // prettier-ignore
const order = (type: 'order.placed' | 'order.refunded', id: string, days: number) =>
  orderEvent(type, START + days * DAY_MS, { id, number: id, customerId: 'c1' }, who)
const life = [
  order('order.placed', '11', -40),
  order('order.placed', '12', 0),
  eventOf('consent.changed', START + DAY_MS, { consent: { customerId: 'c1', channel: 'email', given: false } }),
  order('order.refunded', '12', 2),
  order('order.refunded', '11', 3),
  order('order.placed', '13', 4),
].map(told) // prettier-ignore

const trigger = { kind: 'event', event: 'order.placed' } as const

test('somebody real becomes somebody made up, as they were at each occasion', () => {
  const [newest, middle, oldest] = likenesses(life, trigger)
  expect([newest, middle, oldest].map((one) => one?.number)).toEqual(['13', '12', '11'])
  // At the second order nobody had said no, and there was one before.
  expect(middle?.subject).toMatchObject({
    customer: { firstName: '', zone: 'Asia/Kathmandu', country: 'NP', emailConsent: true, tags: ['wholesale'] },
    earlier: [{ daysBefore: 40 }],
    between: [
      { what: 'saysNo', afterMinutes: 1440 },
      { what: 'refunded', afterMinutes: 2880 },
      { what: 'ordered', afterMinutes: 4 * 1440 },
    ],
  })
  expect(newest?.subject.customer.emailConsent).toBe(false)
  expect(newest?.subject.earlier).toHaveLength(2)
  expect(oldest?.subject.earlier).toEqual([])
}) // prettier-ignore

test('neither name nor address goes along', () => {
  expect(JSON.stringify(likenesses(life, trigger))).not.toMatch(/Ines|ines@/)
})

test('what a workflow does with them is what it would have done', () => {
  const definition = aDefinition({ trigger, steps: [anEmail('first'), wait('w', 'P2D'), anEmail('second', { purpose: 'marketing' })] }) // prettier-ignore
  const [newest, , oldest] = likenesses(life, trigger)
  if (!newest || !oldest) throw new Error('nobody')
  const { shop } = facts()
  // She has said no by the newest; after the oldest she orders again, which enters once more.
  expect(messagesOf(rehearse(definition, newest.subject, shop)).map(({ step }) => step)).toEqual(['first']) // prettier-ignore
  expect(rehearse(definition, oldest.subject, shop).runs).toBe(3)
})

test('where nothing it starts by has happened there is nobody', () => {
  expect(likenesses(life, { kind: 'event', event: 'review.submitted' })).toEqual([])
  expect(likenesses([], trigger)).toEqual([])
})

test('who has no address gets nothing by email, and that is said; with one they would', () => {
  const bare = orderEvent('order.placed', START, { id: '1', number: '1', customerId: 'c1' }, { id: 'c1', email: null })
  const [only] = likenesses([bare].map(told), trigger)
  if (!only) throw new Error('nobody')
  const definition = aDefinition({ trigger, steps: [anEmail('mail', { purpose: 'marketing' })] })
  const { shop } = facts()
  const { entries } = rehearse(definition, { ...only.subject, customer: { ...only.subject.customer, emailConsent: true } }, shop)
  expect(entries).toContainEqual(expect.objectContaining({ entry: expect.objectContaining({ kind: 'skipped', reason: { code: 'noAddress' } }) }))
  const given = changed({ ...only.subject, customer: { ...only.subject.customer, emailConsent: true } }, { what: 'email' })
  expect(messagesOf(rehearse(definition, given, shop))).toHaveLength(1)
}) // prettier-ignore
