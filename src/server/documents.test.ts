import { simpleParser } from 'mailparser'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { rawMail } from '../backend/mailbox/index.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aDefinition, anEmail, on, orderEvent, START } from '../testing/builders.ts'
import { SHOP } from '../testing/world.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())

const MESSAGE = anEmail('m', { subject: 'For you', body: 'Hello' })

describe('files that go with a message', () => {
  const take = (name: string, bytes: Buffer, who: 'maren' | 'aoife' = 'maren') =>
    api.call('POST', `/api/documents?name=${encodeURIComponent(name)}`, bytes, {
      who,
      type: 'application/octet-stream',
    })
  const PDF = Buffer.from('%PDF-1.7\nnot much of one')

  test('are sent as they are, after the invoice; a test to oneself has them, too', async () => {
    const made = await take('Care guide für Veils.pdf', PDF)
    expect(made.statusCode).toBe(201)
    const document = made.json<{ id: string; name: string; bytes: number }>()
    const step = { ...MESSAGE, invoice: true, documents: [document] }
    await api.world.publish(aDefinition({ trigger: on('order.delivered'), steps: [step] }))
    await api.world.post(orderEvent('order.delivered', START, { id: 'd1', number: 'D1' }))
    const body = { trigger: on('order.delivered'), message: [step], sample: null, hasCoupon: false }
    expect((await api.call('POST', '/api/messages/test', body)).statusCode).toBe(200)
    for (const mail of (await api.world.mails()).slice(-2)) {
      const parsed = await simpleParser(await rawMail(api.world.db, SHOP, mail.id))
      expect(parsed.attachments.map(({ filename, contentType }) => `${filename} ${contentType}`)).toEqual([
        'invoice-D1.pdf application/pdf',
        'Care guide für Veils.pdf application/pdf',
      ]) // prettier-ignore
      expect(parsed.attachments[1]?.content.equals(PDF)).toBe(true)
    }
    const read = await api.call('GET', `/api/documents/${document.id}`)
    expect(read.rawPayload.equals(PDF)).toBe(true)
    expect(read.headers['content-disposition']).toContain('attachment')
  })

  test.each([
    ['x.pdf', Buffer.from('MZ\u0000\u0001 a program')],
    ['x.txt', Buffer.from([0xff, 0xfe, 0x00, 0x41])],
    ['x.html', Buffer.from('<script>alert(1)</script>')],
    ['x.csv', Buffer.from('a\0b')],
  ])('%s is what its bytes are, whatever it is called', async (name, bytes) => {
    expect((await take(name, bytes)).statusCode).toBe(400)
  })

  test.each([
    ['class.ics', Buffer.from('BEGIN:VCALENDAR\r\n'), 'text/calendar'],
    ['list.CSV', Buffer.from('a,b\n1,2'), 'text/csv'],
    ['notes.txt', Buffer.from('Öl'), 'text/plain'],
  ])('%s: %s', async (name, bytes, type) => {
    const { id } = (await take(name, bytes)).json<{ id: string }>()
    expect((await api.call('GET', `/api/documents/${id}`)).headers['content-type']).toContain(type)
  })

  test('one that is gone keeps the message back', async () => {
    const gone = { id: 'gone', name: 'gone.pdf', bytes: 10 }
    await api.world.publish(
      aDefinition({ trigger: on('order.cancelled'), exclusions: [], steps: [{ ...MESSAGE, documents: [gone] }] }),
    ) // prettier-ignore
    const before = (await api.world.mails()).length
    await api.world.post(orderEvent('order.cancelled', START, { id: 'd2', number: 'D2' }))
    expect(await api.world.mails()).toHaveLength(before)
    expect((await api.world.ledger()).at(-1)).toMatchObject({
      kind: 'failed',
      error: expect.stringContaining('is gone') as string,
    })
  })

  test('staff cannot put files in', async () => {
    expect((await take('x.pdf', PDF, 'aoife')).statusCode).toBe(403)
  })
})
