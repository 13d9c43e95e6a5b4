import { fork } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { createTransport } from 'nodemailer'
import { renderEmail, smtpMailer, type OutgoingMail } from '../src/backend/messages/index.ts'
import type { Block } from '../src/core/blocks/blocks.ts'
import { plainBrand } from '../src/core/messages/brand.ts'
import { anEmail, START } from '../src/testing/builders.ts'
import { aLine, facts } from '../src/testing/coreFacts.ts'
import { perSecond, report } from './measure.ts'

const MAILS = 3_000
/** Both are timed so often, by turns, and the best of each counts. */
const TURNS = 3
/** As many connections to the mail server as a worker keeps open. */
const CONNECTIONS = 4

const BLOCKS: Block[] = [
  { key: 'h', kind: 'heading', level: 1, text: 'Thank you, {{ customer.first_name }}' },
  { key: 't', kind: 'text', text: [{ kind: 'paragraph', text: [{ text: 'Your order {{ order.number }} is with us. '.repeat(6) }] }] },
  { key: 'i', kind: 'items', prices: true },
  { key: 's', kind: 'summary', addresses: true },
  { key: 'b', kind: 'button', label: 'Look at it', href: 'https://combwright.example/orders/{{ order.number }}' },
  { key: 'f', kind: 'help', text: 'Questions? Write to' },
] // prettier-ignore
const STEP = anEmail('m', { format: 'designed', subject: 'Order {{ order.number }}', blocks: BLOCKS }) // prettier-ignore
const BRAND = plainBrand('Combwright')

/**
 * Designed mails rendered and handed over to an SMTP server on this machine by one process, which
 * has one core; beside it, nodemailer with the same words and nothing to render.
 */
export async function measureMessages(): Promise<void> {
  const sink = fork(fileURLToPath(new URL('smtpSink.ts', import.meta.url)), { execArgv: ['--import', 'tsx'] }) // prettier-ignore
  const port = await new Promise<number>((resolve) => sink.once('message', (told) => resolve(Number(told)))) // prettier-ignore
  const url = `smtp://127.0.0.1:${port}`
  const mailer = smtpMailer(url, { connections: CONNECTIONS })
  const bareMailer = createTransport({ url, pool: true, maxConnections: CONNECTIONS, maxMessages: Infinity }) // prettier-ignore
  const rendered = await Promise.all(Array.from({ length: MAILS }, (_, index) => mailFor(index)))
  let [ours, bare, rendering] = [0, 0, 0]
  for (let turn = 0; turn < TURNS; turn += 1) {
    ours = Math.max(ours, await perSecond(MAILS, () => sendAll(async (index) => mailer.send(await mailFor(index))))) // prettier-ignore
    bare = Math.max(bare, await perSecond(MAILS, () => sendAll((index) => bareMailer.sendMail(bareOf(rendered[index] as OutgoingMail))))) // prettier-ignore
    rendering = Math.max(rendering, await perSecond(MAILS, () => sendAll(mailFor)))
  }
  report('designed mails rendered and handed over, one process', ours, 'the same words, nodemailer', bare) // prettier-ignore
  report('designed mails rendered only', rendering, 'rendered and handed over', ours)
  mailer.close()
  bareMailer.close()
  sink.disconnect()
}

/** A designed mail of ten lines for one of many customers. */
async function mailFor(index: number): Promise<OutgoingMail> {
  const number = String(1000 + index)
  const lines = Array.from({ length: 10 }, () => aLine())
  const about = facts({ customer: { firstName: `Ines ${number}` }, order: { number, lines } })
  const mail = await renderEmail(STEP, about, {
    brand: BRAND,
    publicUrl: 'http://127.0.0.1:8080',
    unsubscribeUrl: null,
    holds: () => true,
    productsOf: async () => [],
    looksOf: async () => new Map(),
    keptOf: async () => new Map(),
  })
  return {
    ...mail,
    messageId: `<${number}@combwright.example>`,
    date: START,
    from: STEP.sender,
    replyTo: null,
    to: ['ines@example.org'],
    copies: [],
    unsubscribeUrl: null,
  }
}

/** The same for nodemailer alone, which writes all of it. */
const bareOf = ({ messageId, from, to, subject, text, html }: OutgoingMail) => ({
  messageId,
  from,
  to,
  subject,
  text,
  html: html ?? '',
})

/** Does all of them, as many at once as there are connections. */
async function sendAll(send: (index: number) => Promise<unknown>): Promise<void> {
  let next = 0
  const worker = async () => {
    while (next < MAILS) {
      next += 1
      await send(next - 1)
    }
  }
  await Promise.all(Array.from({ length: CONNECTIONS }, worker))
}
