import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { readReport, smtpMailer, type Mailer } from '../../backend/messages/index.ts'
import { sql } from 'drizzle-orm'
import { SMTPServer } from 'smtp-server'
import { ingestEvents } from '../../backend/shop/index.ts'
import { aDefinition, anEmail, orderEvent, START } from '../../testing/builders.ts'
import { LINK_SECRET, makeWorld, SHOP, type World } from '../../testing/world.ts'

let world: World
let server: SMTPServer
let mailer: Mailer
/** From whom, and to whom, each mail was handed over. */
let envelopes: { from: string; to: string[] }[]
let returnPath: string

beforeEach(async () => {
  envelopes = []
  server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    onData: (stream, { envelope }, callback) => {
      const { mailFrom, rcptTo } = envelope
      envelopes.push({ from: mailFrom ? mailFrom.address : '', to: rcptTo.map(({ address }) => address) }) // prettier-ignore
      stream.resume().on('end', () => callback())
    },
  })
  const port = await new Promise<number>((resolve) => {
    const listener = server.listen(0, '127.0.0.1', () => resolve((listener.address() as { port: number }).port)) // prettier-ignore
  })
  mailer = smtpMailer(`smtp://127.0.0.1:${port}`)
  world = await makeWorld({ mailer, returnPath: 'bounces@mail.combwright.example' })
  await world.publish(aDefinition({ steps: [anEmail('m', { subject: 'm', body: 'Hello', copies: ['office@combwright.example'] })] })) // prettier-ignore
  await world.post(orderEvent('order.placed', START))
  await world.settle()
  returnPath = envelopes[0]?.from ?? ''
})
afterEach(async () => {
  await world.close()
  mailer.close()
  await new Promise<void>((resolve) => server.close(resolve))
})

/** A mail that came to a return path, from a server that writes in its own words. */
const returned = (lines: string[], { to = returnPath, from = 'MAILER-DAEMON@mx.example.org' } = {}) =>
  Buffer.from([`From: ${from}`, `Delivered-To: ${to}`, 'To: undisclosed-recipients:;', 'Subject: Your mail', 'Content-Type: text/plain', ...lines, ''].join('\r\n')) // prettier-ignore
const read = (raw: Buffer, secrets = [LINK_SECRET]) => readReport(world.db, { shopId: SHOP, secrets }, raw) // prettier-ignore
const suppressed = async () => (await world.customer())?.suppressed

test('each message leaves with a return path of its own, to everybody in its envelope', async () => {
  expect(envelopes).toHaveLength(1)
  expect(returnPath).toMatch(/^bounces\+[0-9a-z]+-[0-9a-z]{16}@mail\.combwright\.example$/)
  expect(envelopes[0]?.to).toEqual(['ines@example.org', 'office@combwright.example'])
})

describe('what comes back there', () => {
  test('is told to its message though it names none, and a dead address is written to no more', async () => {
    const event = await read(returned(['', 'ines@example.org: 550 5.1.1 No such user here']))
    const { rows } = await world.db.execute(sql`select message_id from messages`)
    expect(event?.data.message).toEqual({ customerId: 'c1', id: rows[0]?.['message_id'], permanent: true }) // prettier-ignore
    if (event) await ingestEvents(world.db, SHOP, [event, event])
    expect(await suppressed()).toBe('bounced')
  })

  test.each([
    ['a full mailbox', ['', '552 5.2.2 Mailbox full'], false],
    ['a server without codes', ['', 'I could not deliver your mail, sorry.'], false],
    ['an address like a code', ['', 'From 10.5.1.1: no'], false],
  ])('%s bounces, and is no dead address', async (_name, lines, permanent) => {
    expect((await read(returned(lines)))?.data.message.permanent).toBe(permanent)
  })

  test.each([
    ['that it is late', returnedLate],
    ['a note of absence (RFC 3834)', ['Auto-Submitted: auto-replied', '', 'I am with the bees. 5.1.1']], // prettier-ignore
  ])('%s changes nothing', async (_name, lines) => {
    expect(await read(returned(typeof lines === 'function' ? lines() : lines))).toBeNull()
  })

  test('an answer that somebody wrote changes nothing, whatever it says', async () => {
    const answer = returned(['', 'Your 5.1.1 was wrong'], { from: 'ines@example.org' })
    expect(await read(answer)).toBeNull()
  })

  test('is refused where the return path was not made here; one of a former secret is ours', async () => {
    const lines = ['', '550 5.1.1 No such user here']
    const forged = returnPath.replace(/-./, '-0')
    await expect(read(returned(lines, { to: forged }))).rejects.toMatchObject({ code: 'bad_input' })
    await expect(read(returned(lines), ['another secret'])).rejects.toMatchObject({ code: 'bad_input' }) // prettier-ignore
    expect((await read(returned(lines), ['newer', LINK_SECRET]))?.type).toBe('message.bounced')
  })
})

function returnedLate(): string[] {
  return ['', 'Delivery is delayed: 4.4.1 no answer yet']
}
