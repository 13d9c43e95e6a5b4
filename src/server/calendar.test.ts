import ICAL from 'ical.js'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { DAY_MS } from '../core/shared/duration.ts'
import { formatInstant } from '../core/shared/time.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aCustomer, aDefinition, anEmail, anOrder, aSubscription, eventOf, on, START, wait } from '../testing/builders.ts' // prettier-ignore

let api: Api
let path: string
beforeAll(async () => {
  api = await makeApi()
  const { world } = api
  const name = 'Care guide; with, odd \\ characters, and a name that is much longer than one line of a calendar may be' // prettier-ignore
  await world.publish(aDefinition({ name, trigger: on('order.placed'), steps: [wait('w', 'P5D'), anEmail('care')] })) // prettier-ignore
  const customer = aCustomer({ id: 'cal', email: 'cal@example.org' })
  await world.post(eventOf('order.placed', START, { order: anOrder({ id: 'cal-1', customerId: 'cal' }), customer })) // prettier-ignore
  for (const id of ['s1', 's2']) {
    const subscription = aSubscription({ id, customerId: 'cal', title: 'Honey club', status: 'running', nextPaymentAt: formatInstant(START + 9 * DAY_MS) }) // prettier-ignore
    await world.post(eventOf('subscription.created', START, { subscription, customer }))
  }
  await world.settle()
  const { address } = (await api.call('GET', '/api/calendar')).json<{ address: string }>()
  path = new URL(address).pathname
})
afterAll(() => api.close())

test('what is to come is a calendar that another program reads (RFC 5545, read by ical.js)', async () => {
  const answer = await api.app.inject({ url: path })
  expect(answer.headers['content-type']).toContain('text/calendar')
  // 3.1: lines end with CRLF, and no line has more than 75 octets.
  for (const line of answer.body.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75) // prettier-ignore
  const events = new ICAL.Component(ICAL.parse(answer.body) as unknown[]).getAllSubcomponents('vevent').map((one) => new ICAL.Event(one)) // prettier-ignore
  const told = events.map(({ summary, startDate }) => [startDate.toString(), summary])
  expect(told).toContainEqual(['2026-04-19', expect.stringMatching(/^Care guide; with, odd \\ characters, .* may be: 1 person is due$/)]) // prettier-ignore
  expect(told).toContainEqual(['2026-04-23', '2 renewals of Honey club'])
  expect(events.every(({ startDate }) => startDate.isDate)).toBe(true)
  expect(new Set(events.map(({ uid }) => uid)).size).toBe(events.length)
  // It names nobody.
  expect(answer.body).not.toContain('cal@example.org')
})

test('is at no other address, and for nobody who only looks', async () => {
  expect((await api.app.inject({ url: `${path.slice(0, -2)}xx` })).statusCode).toBe(404)
  expect((await api.call('GET', '/api/calendar', undefined, { who: 'aoife' })).statusCode).toBe(403)
})
