import { createHash } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { simpleParser, type Attachment, type ParsedMail } from 'mailparser'
import {
  readDeliveryStatus,
  readFeedbackReport,
  readReturnedMail,
  type MailReport,
} from '../../core/messages/deliveryReport.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { findFollowed } from './links/follow.ts'
import { readReturnPath } from './returnPath.ts'

/** A message, as events name it. */
interface MessageName {
  customerId: string
  id: string
}

/** What a report was about, as an event that can be taken in like any other. */
export interface ReportEvent {
  specversion: '1.0'
  id: string
  source: string
  type: 'message.bounced' | 'message.complained'
  data: { message: MessageName & { permanent?: boolean } }
}

/** Whose report it is, and with what the return paths of messages are signed. */
export interface ReportFor {
  shopId: string
  secrets: readonly string[]
}

/**
 * Reads a report as it came by mail: a bounce (RFC 3464) or a complaint (RFC 5965); or, at the return path of a message, what a mail
 * server wrote in its own words. Returns the event it tells of, or null for one that only says a mail is late, or is an answer that
 * somebody wrote to a return path. Throws AppError `bad_input` when it is none, or about no mail of this shop's.
 */
export async function readReport(
  db: Db,
  { shopId, secrets }: ReportFor,
  raw: Buffer,
): Promise<ReportEvent | null> {
  const mail = await simpleParser(raw, { keepDeliveryStatus: true })
  const returned = await returnedMessage(db, { shopId, secrets }, mail)
  const report = reportIn(mail.attachments) ?? (returned && readReturnedMail(asReturned(mail)))
  if (!report && returned) return null
  if (!report) throw new AppError('bad_input', 'This is neither a bounce nor a complaint.')
  if (report.kind === 'delayed') return null
  const message = returned ?? (await originalMessage(db, shopId, mail))
  if (!message) {
    throw new AppError('bad_input', 'The report is about no mail that was sent from here.')
  }
  return {
    specversion: '1.0',
    // The same report twice is the same event.
    id: createHash('sha256').update(raw).digest('hex'),
    source: '/reports',
    ...(report.kind === 'bounced'
      ? {
          type: 'message.bounced',
          data: { message: { ...message, permanent: report.deadAddress } },
        }
      : { type: 'message.complained', data: { message } }),
  }
}

function reportIn(parts: readonly Attachment[]): MailReport | null {
  for (const part of parts) {
    const text = part.content.toString()
    if (part.contentType === 'message/delivery-status') return readDeliveryStatus(text)
    if (part.contentType === 'message/feedback-report') return readFeedbackReport(text)
  }
  return null
}

/** Where mail servers write to whom it came, when they hand a mail on. */
const TO_WHOM = ['delivered-to', 'x-original-to', 'envelope-to', 'to'] as const

/** The message whose return path a mail came to; null where it came to none. */
async function returnedMessage(
  db: Db,
  { shopId, secrets }: ReportFor,
  { headerLines }: ParsedMail,
): Promise<MessageName | null> {
  for (const name of TO_WHOM) {
    for (const { key, line } of headerLines) {
      const about = key === name ? readReturnPath(secrets, shopId, line) : null
      const found = about && (await findFollowed(db, about))
      if (found) return found
    }
  }
  return null
}

const autoSubmitted = (value: unknown): string | null => (typeof value === 'string' ? value : null)

const asReturned = ({ from, headers, headerLines, text }: ParsedMail) => ({
  from: from?.value[0]?.address ?? '',
  isNullSender: headerLines.some(({ key, line }) => key === 'return-path' && line.includes('<>')),
  autoSubmitted: autoSubmitted(headers.get('auto-submitted')),
  text: text ?? '',
})

/** The message that a report returns, whole or only its headers; null where it was not sent from here. */
async function originalMessage(
  db: Db,
  shopId: string,
  { attachments }: ParsedMail,
): Promise<MessageName | null> {
  const id = originalMessageId(attachments)
  const customerId = id === null ? null : await messageOf(db, shopId, id)
  return id === null || customerId === null ? null : { customerId, id }
}

/** The Message-ID of the mail that a report returns, whole or only its headers. */
function originalMessageId(parts: readonly Attachment[]): string | null {
  const original = parts.find(({ contentType }) =>
    ['message/rfc822', 'text/rfc822-headers'].includes(contentType),
  )
  const headers = original?.content.toString().split(/\r?\n\r?\n/)[0] ?? ''
  return /^Message-ID:\s*(<[^>\s]+>)/im.exec(headers)?.[1] ?? null
}

/** Whom a message went to, by its id; null where there is none. */
export async function messageOf(db: Db, shopId: string, messageId: string): Promise<string | null> {
  const [row] = await rowsOf(
    db,
    z.object({
      customerId: z.string(),
    }),
    sql`select customer_id as "customerId" from messages
    where shop_id = ${shopId} and message_id = ${messageId} limit 1`,
  )
  return row?.customerId ?? null
}
