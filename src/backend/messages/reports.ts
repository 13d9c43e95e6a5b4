import { createHash } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { simpleParser, type Attachment } from 'mailparser'
import {
  readDeliveryStatus,
  readFeedbackReport,
  type MailReport,
} from '../../core/messages/deliveryReport.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'

/** What a report was about, as an event that can be taken in like any other. */
export interface ReportEvent {
  specversion: '1.0'
  id: string
  source: string
  type: 'message.bounced' | 'message.complained'
  data: { message: { customerId: string; id: string; permanent?: boolean } }
}

/**
 * Reads a report as it came by mail: a bounce (RFC 3464) or a complaint (RFC 5965). Returns the event
 * it tells of, or null for one that only says a mail is late. Throws AppError `bad_input` when it is
 * neither, or about no mail of this shop's.
 */
export async function readReport(db: Db, shopId: string, raw: Buffer): Promise<ReportEvent | null> {
  const mail = await simpleParser(raw, { keepDeliveryStatus: true })
  const report = reportIn(mail.attachments)
  if (!report) throw new AppError('bad_input', 'This is neither a bounce nor a complaint.')
  if (report.kind === 'delayed') return null
  const messageId = originalMessageId(mail.attachments)
  const customerId = messageId === null ? null : await messageOf(db, shopId, messageId)
  if (messageId === null || customerId === null) {
    throw new AppError('bad_input', 'The report is about no mail that was sent from here.')
  }
  const message = { customerId, id: messageId }
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
