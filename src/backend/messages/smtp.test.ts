import { createServer } from 'node:net'
import { domainToASCII } from 'node:url'
import { simpleParser } from 'mailparser'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { startSmtpServer, type SimulatedSmtpServer } from '../../simulated/smtpServer.ts'
import { at } from '../../testing/builders.ts'
import { smtpMailer, type Mailer, type OutgoingMail } from './smtp.ts'

let smtp: SimulatedSmtpServer
let mailer: Mailer
let received: { raw: string; recipients: string[] }[]
beforeEach(async () => {
  received = []
  smtp = await startSmtpServer(async ({ raw, recipients }) => {
    received.push({ raw: raw.toString('utf8'), recipients })
  })
  mailer = smtpMailer(`smtp://127.0.0.1:${smtp.port}`)
})
afterEach(async () => {
  mailer.close()
  await smtp.close()
})

const mail = (over: Partial<OutgoingMail> = {}): OutgoingMail => ({
  messageId: '<combwright.1.thanks@combwright.example>',
  date: at('2026-04-14T09:40:00Z'),
  from: { name: 'Maren', address: 'maren@combwright.example' },
  replyTo: null,
  to: ['ines@example.org'],
  copies: [],
  subject: 'Thank you',
  text: 'Hello\n',
  html: null,
  unsubscribeUrl: null,
  ...over,
})

async function send(over: Partial<OutgoingMail> = {}) {
  expect(await mailer.send(mail(over))).toEqual({ kind: 'sent' })
  const raw = received.at(-1)?.raw ?? ''
  return { raw, head: raw.slice(0, raw.indexOf('\r\n\r\n')), parsed: await simpleParser(raw) }
}

describe('what goes over the wire', () => {
  test('Message-ID and Date are ours (RFC 5322 3.6.4, 3.3)', async () => {
    const { head, parsed } = await send()
    expect(head).toMatch(/^Message-ID: <combwright\.1\.thanks@combwright\.example>$/im)
    expect(head).toMatch(/^Date: Tue, 14 Apr 2026 09:40:00 \+0000$/im)
    expect(parsed.date?.getTime()).toBe(at('2026-04-14T09:40:00Z'))
  })

  test('text first, HTML last (RFC 2046 5.1.4); lines end in CRLF and are short (RFC 5322 2.1.1)', async () => {
    const { raw, parsed } = await send({
      text: 'plain words\n',
      html: `<p>${'marked up '.repeat(300)}</p>`,
    })
    expect(raw.indexOf('text/plain')).toBeLessThan(raw.indexOf('text/html'))
    expect(parsed.text).toContain('plain words')
    expect(parsed.html).toContain('marked up')
    expect(Math.max(...raw.split('\r\n').map((line) => line.length))).toBeLessThanOrEqual(78)
    expect(raw.replaceAll('\r\n', '')).not.toMatch(/[\r\n]/)
  })

  test('a plain mail has one part', async () => {
    const { head, parsed } = await send()
    expect(head).toMatch(/^Content-Type: text\/plain/im)
    expect(parsed.html).toBe(false)
  })

  test('both parts arrive as they were written: accents, signs, long lines, blanks at the end', async () => {
    const text = 'Grüße aus Łódź \n= 100 %\t\n🐝🐝\n'
    const html = `<p title="a=b">${'Völlig ohne Umbruch – '.repeat(90)}</p>\n<p>.</p>`
    const { raw, parsed } = await send({ text, html })
    expect(parsed.text).toBe(text)
    expect(parsed.html).toBe(html)
    expect(raw.match(/^Content-Transfer-Encoding: quoted-printable\r$/gm)).toHaveLength(2)
  })

  test('a file that is larger than what is written at once arrives whole', async () => {
    const content = Buffer.alloc(300_000, 'the frame in the light, ')
    const { parsed } = await send({
      html: '<p>Attached</p>',
      attachments: [{ filename: 'frame.txt', contentType: 'text/plain', content }],
    })
    expect(parsed.attachments).toHaveLength(1)
    expect(parsed.attachments[0]?.content.equals(content)).toBe(true)
    expect(parsed.html).toBe('<p>Attached</p>')
  })

  test('lines that begin with dots arrive as they are (RFC 5321 4.5.2)', async () => {
    const { parsed } = await send({ text: 'one\n.two\n..three\n.\nend\n' })
    expect(parsed.text).toBe('one\n.two\n..three\n.\nend\n')
  })

  test.each(['Keld Jørn Simonsen', '佐藤美咲', 'é'.repeat(100), 'Two 😀 faces', "O'Brien"])(
    'subject and name %s come back whole, in encoded words of at most 75 characters (RFC 2047 2)',
    async (words) => {
      const { head, parsed } = await send({
        subject: words,
        from: { name: words, address: 'maren@combwright.example' },
      })
      expect(parsed.subject).toBe(words)
      expect(parsed.from?.value[0]?.name).toBe(words)
      for (const word of head.match(/=\?[^\s]+\?=/g) ?? [])
        expect(word.length).toBeLessThanOrEqual(75)
    },
  )

  test.each(['x\r\nBcc: evil@example.org', 'x\nBcc: evil@example.org'])(
    '%j adds no header (RFC 5322 2.2)',
    async (text) => {
      const { head, parsed } = await send({
        subject: text,
        from: { name: text, address: 'maren@combwright.example' },
      })
      expect(head).not.toMatch(/^Bcc:/im)
      expect(parsed.headers.has('bcc')).toBe(false)
      expect(received.at(-1)?.recipients).toEqual(['ines@example.org'])
    },
  )

  test('marketing can be left by one click (RFC 2369 3.2, RFC 8058 3.1)', async () => {
    const { raw } = await send({ unsubscribeUrl: `https://yomble.example/u/${'a'.repeat(120)}` })
    const unfolded = raw.replaceAll(/\r\n[ \t]+/g, ' ')
    expect(unfolded).toMatch(/^List-Unsubscribe: <https:\/\/yomble\.example\/u\/a{120}>$/im)
    expect(unfolded).toMatch(/^List-Unsubscribe-Post: List-Unsubscribe=One-Click$/im)
  })
  test('transactional mail has no such header; answers go where they should', async () => {
    const { head, parsed } = await send({ replyTo: 'care@combwright.example' })
    expect(head).not.toMatch(/List-Unsubscribe/i)
    expect(parsed.replyTo?.text).toBe('care@combwright.example')
  })
  test('an address beyond ASCII goes to the same person', async () => {
    const { parsed } = await send({ to: ['user@例子.example'] })
    const [recipient = ''] = received.at(-1)?.recipients ?? []
    expect(domainToASCII(recipient.slice('user@'.length))).toBe('xn--fsqu00a.example')
    expect(parsed.to).toBeDefined()
  })
})

describe('failures', () => {
  test('a mailbox that does not exist (550 5.1.1)', async () => {
    expect(await mailer.send(mail({ to: ['bounce@example.net'] }))).toMatchObject({
      kind: 'permanent',
      badAddress: true,
    })
  })
  test('a server that is not there is worth another try', async () => {
    const nobody = smtpMailer('smtp://127.0.0.1:1')
    expect(await nobody.send(mail())).toMatchObject({
      kind: 'temporary',
      error: expect.stringContaining('ECONNREFUSED'),
    })
    nobody.close()
  })
  test('a server that hangs up before anything was said is worth another try', async () => {
    const rude = createServer((socket) => socket.destroy())
    await new Promise<void>((done) => rude.listen(0, '127.0.0.1', done))
    const { port } = rude.address() as { port: number }
    const toRude = smtpMailer(`smtp://127.0.0.1:${port}`)
    expect(await toRude.send(mail())).toMatchObject({ kind: 'temporary' })
    toRude.close()
    await new Promise((done) => rude.close(done))
  })
})
