import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { Preview } from '../contract/messages.ts'
import type { Step } from '../core/workflow/steps.ts'
import { aSubject } from '../testing/aSubject.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aDefinition, anEmail, on, wait } from '../testing/builders.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())

const subject = aSubject({ customer: { zone: 'Asia/Kathmandu', smsConsent: true, hasPhone: true }, lines: [{ productId: 'p1', title: 'Hive', category: null, quantity: 2, unitPriceMinor: 18_900 }] }) // prettier-ignore
const coupon: Step = { key: 'code', kind: 'coupon', name: 'Ten off', discount: { kind: 'percent', percent: 10 }, pattern: 'BEE-####' } // prettier-ignore
const definition = aDefinition({
  trigger: on('order.placed'),
  steps: [
    anEmail('first', { name: 'Thanks', subject: 'Thank you, {{ customer.first_name }}', body: 'For order {{ order.number }}: {{ order.total }}.' }),
    wait('w', 'P3D'),
    coupon,
    { key: 'text', kind: 'sms', name: 'A text', purpose: 'marketing', body: 'Your code is {{ coupon.code }}' },
    { key: 'note', kind: 'note', name: 'Tell Tiago', to: ['tiago@combwright.example'], subject: 'Look after {{ customer.first_name }}', body: 'Please.' },
  ],
}) // prettier-ignore

const look = (place: number, more: object = {}) =>
  api.call('POST', '/api/rehearsal/message', { definition, subject, place, ...more })
const shown = async (place: number) => (await look(place)).json<Preview>()

describe('the messages of a rehearsal', () => {
  test('are as they would be for somebody made up, at their moment', async () => {
    const first = await shown(0)
    expect(first).toMatchObject({ subject: 'Thank you, Marta', problem: null })
    expect(first.text).toMatch(/For order \S+: €378\.00\./)
    expect((await shown(1)).text).toMatch(/^Your code is BEE-XXXX/)
    expect(await shown(2)).toMatchObject({ subject: 'Look after Marta', to: 'tiago@combwright.example' }) // prettier-ignore
  })

  test('say what is in the way; there are no others; what is no workflow is refused with its place', async () => {
    expect((await look(3)).statusCode).toBe(404)
    const broken = aDefinition({ ...definition, steps: [anEmail('m', { subject: 'Hi {{ nobody.knows }}' })] }) // prettier-ignore
    const { problem } = (await look(0, { definition: broken })).json<Preview>()
    expect(problem).toContain('“nobody”')
    const bad = await look(0, { subject: { ...subject, stars: 9 } })
    expect(bad.statusCode).toBe(400)
    expect(bad.json()).toMatchObject({ problems: [{ path: 'subject.stars' }] })
  })

  test('are sent to oneself at once, each with which it is and when it would leave', async () => {
    const answer = await api.call('POST', '/api/rehearsal/series', { definition, subject })
    expect(answer.json()).toEqual({ sent: 3, to: 'maren@combwright.example' })
    const mails = await api.world.mails()
    expect(mails.map((mail) => [mail.subject, mail.to])).toEqual([
      ['[Test 1 of 3, 14 April, 15:50] Thank you, Marta', 'maren@combwright.example'],
      ['[Test 2 of 3, 17 April, 15:50] Text message “A text”', 'maren@combwright.example'],
      ['[Test 3 of 3, 17 April, 15:50] Look after Marta', 'maren@combwright.example'],
    ])
    expect(mails.map(({ date }) => date - (mails[2]?.date ?? 0))).toEqual([-120_000, -60_000, 0])
    expect(await api.world.ledger()).toEqual([])
  })

  test('that cannot be rendered stop the series before any of it is sent', async () => {
    const before = (await api.world.mails()).length
    const broken = { ...definition, steps: [...definition.steps, anEmail('m', { name: 'Last', subject: 'Hi {{ nobody.knows }}' })] } // prettier-ignore
    const answer = await api.call('POST', '/api/rehearsal/series', { definition: broken, subject })
    expect(answer.statusCode).toBe(422)
    expect(answer.json<{ detail: string }>().detail).toContain('“Last” cannot be sent')
    expect((await api.world.mails()).length).toBe(before)
  })
})
