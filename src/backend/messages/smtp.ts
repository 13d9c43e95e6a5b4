import { Transform } from 'node:stream'
import { createTransport } from 'nodemailer'
import type { Instant } from '../../core/shared/time.ts'
import type { Dkim } from './dkim.ts'
import type { HandOver } from '../platform/handOver.ts'
import { quotedPrintable } from './quotedPrintable.ts'

/** A file that goes with a mail. */
export interface Attachment {
  filename: string
  contentType: string
  content: Buffer
}

/** A mail ready to be handed over. */
export interface OutgoingMail {
  messageId: string
  date: Instant
  from: { name: string; address: string }
  replyTo: string | null
  to: string[]
  copies: string[]
  /** Whether the recipient sees who gets a copy. */
  copiesShown?: boolean
  subject: string
  text: string
  html: string | null
  attachments?: Attachment[]
  unsubscribeUrl: string | null
  /** Where its bounce comes back to; left out: to the sender. */
  returnPath?: string | null
}

export interface Mailer {
  send: (mail: OutgoingMail) => Promise<HandOver>
  close: () => void
}

/** Hands mails over to an SMTP server, over a few connections that are kept open. */
export function smtpMailer(
  url: string,
  { connections = 4, dkim = null }: { connections?: number; dkim?: Dkim | null } = {},
): Mailer {
  const transport = createTransport({
    url,
    pool: true,
    maxConnections: connections,
    maxMessages: Infinity,
    disableFileAccess: true,
    disableUrlAccess: true,
    ...(dkim && { dkim }),
  })
  // A connection that breaks says nothing of how far it had got. Once the last byte of the message
  // has been taken from here, the server may have it.
  transport.use('stream', (mail, done) => {
    const { progress } = mail.data as unknown as TrackedMail
    mail.message.transform(() => inLargePieces().once('end', () => (progress.allTaken = true)))
    done()
  })
  return {
    send: async (mail) => {
      const progress = { allTaken: false }
      try {
        const tracked: TrackedMail = { ...mimeOptions(mail), progress }
        await transport.sendMail(tracked)
        return { kind: 'sent' }
      } catch (error) {
        return readFailure(error, progress.allTaken)
      }
    },
    close: () => transport.close(),
  }
}

const PIECE_BYTES = 64 * 1024

/** Passes a mail on in large pieces, for each is written to the network by itself, and they come in lines. */
function inLargePieces(): Transform {
  let held: Buffer[] = []
  let bytes = 0
  const release = (to: Transform) => {
    to.push(Buffer.concat(held))
    held = []
    bytes = 0
  }
  return new Transform({
    transform(chunk: Buffer, _encoding, taken) {
      held.push(chunk)
      bytes += chunk.length
      if (bytes >= PIECE_BYTES) release(this)
      taken()
    },
    flush(ended) {
      release(this)
      ended()
    },
  })
}

/** A mail as it goes over the wire (RFC 5322), handed over to nobody. */
export async function composeMail(mail: OutgoingMail): Promise<Buffer> {
  const composer = createTransport({ streamTransport: true, buffer: true, newline: 'windows' })
  const { message } = await composer.sendMail(mimeOptions(mail))
  if (!Buffer.isBuffer(message)) throw new TypeError('nodemailer composed no buffer')
  return message
}

type TrackedMail = ReturnType<typeof mimeOptions> & { progress: { allTaken: boolean } }

function mimeOptions(mail: OutgoingMail) {
  const { messageId, from, to, copies, subject, text, html, replyTo, unsubscribeUrl } = mail
  const { attachments = [], returnPath = null } = mail
  return {
    messageId,
    date: new Date(mail.date),
    from,
    to: to.map(bare),
    // A blind copy is in the envelope alone (RFC 5322 3.6.3).
    [mail.copiesShown ? 'cc' : 'bcc']: copies.map(bare),
    subject,
    // A text alone is the whole of a mail, and the library's to write.
    ...(html === null
      ? { text }
      : { text: encodedPart('text/plain', text), html: encodedPart('text/html', html) }),
    ...(attachments.length === 0 ? {} : { attachments }),
    ...(replyTo === null ? {} : { replyTo }),
    ...(returnPath !== null && { envelope: { from: returnPath, to: [...to, ...copies] } }),
    // RFC 2369 section 3.2, RFC 8058 section 3.1.
    headers: unsubscribeUrl
      ? {
          'List-Unsubscribe': `<${unsubscribeUrl}>`,
          'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
        }
      : {},
  }
}

/** A part as it stands in the mail. Designs are large, and encoding them is most of what a mail takes. */
const encodedPart = (type: string, content: string) => ({
  raw: `Content-Type: ${type}; charset=utf-8\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n${quotedPrintable(content)}`,
})

/** An address without a name, whatever it looks like. */
const bare = (address: string) => ({ name: '', address })

const BAD_MAILBOX = /\b5\.1\.[123]\b|user unknown|no such (user|mailbox|recipient)/i

function readFailure(thrown: unknown, allTaken: boolean): HandOver {
  const failure = thrown as Error & { responseCode?: number; response?: string }
  const error = failure.message || 'the mail server could not be reached'
  const { responseCode } = failure
  if (responseCode === undefined) {
    return allTaken ? { kind: 'unsure', error } : { kind: 'temporary', error }
  }
  if (responseCode < 500) return { kind: 'temporary', error }
  return { kind: 'permanent', error, badAddress: BAD_MAILBOX.test(failure.response ?? error) }
}
