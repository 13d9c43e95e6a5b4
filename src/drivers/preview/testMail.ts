import { randomUUID } from 'node:crypto'
import {
  attachmentsOf,
  composeMail,
  RenderError,
  type Attachment,
  type Mailer,
  type OutgoingMail,
} from '../../backend/messages/index.ts'
import type { Database } from '../../backend/platform/db.ts'
import { AppError } from '../../backend/platform/errors.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import type { Facts } from '../../core/events/facts.ts'
import { type EmailStep, isMail } from '../../core/workflow/steps.ts'
import { factsOfSample, previewMessage, previewWayOut, type PreviewRequest } from './preview.ts'

/**
 * Sends a message as somebody would get it to a colleague instead, with a mark in its subject.
 * Throws AppError when it cannot be rendered or the mail server does not take it.
 */
export async function sendTest(
  db: Database,
  mailer: Mailer,
  shopId: string,
  request: PreviewRequest & { to: string },
): Promise<void> {
  const mail = await mailOf(db, shopId, request)
  const subject = `[Test] ${mail.subject}`
  const result = await mailer.send({ ...mail, subject, to: [request.to], unsubscribeUrl: null })
  if (result.kind !== 'sent') {
    throw new AppError('not_ready', `The mail server did not take it: ${result.error}`)
  }
}

/** A message as somebody would get it, as it goes over the wire (RFC 5322). Throws AppError. */
export async function previewEml(
  db: Database,
  shopId: string,
  request: PreviewRequest,
): Promise<Buffer> {
  return composeMail(await mailOf(db, shopId, request))
}

async function mailOf(
  db: Database,
  shopId: string,
  request: PreviewRequest,
): Promise<OutgoingMail> {
  const { message, publicUrl } = request
  if (!isMail(message)) throw new AppError('bad_input', 'A text message is no mail.')
  const preview = await previewMessage(db, shopId, request)
  if (preview.problem !== null) throw new AppError('not_ready', preview.problem)
  if (preview.subject === '') throw new AppError('not_ready', 'The subject is empty. Write one.')
  const { now } = await readClock(db, shopId)
  const isEmail = message.kind === 'email'
  const shop = await findShop(db, shopId)
  return {
    messageId: `<test.${randomUUID()}@yomble.invalid>`,
    date: now,
    from: isEmail ? message.sender : shop.defaultSender,
    replyTo: isEmail ? (message.replyTo ?? null) : null,
    to: [preview.to],
    copies: [],
    subject: preview.subject,
    text: preview.text,
    html: preview.html,
    attachments: isEmail ? await filesWith(db, shop, request, message) : [],
    unsubscribeUrl: isEmail && message.purpose === 'marketing' ? previewWayOut(publicUrl) : null,
  }
}

async function filesWith(
  db: Database,
  shop: Shop,
  request: PreviewRequest,
  message: EmailStep,
): Promise<Attachment[]> {
  const shown = await factsOfSample(db, shop, request)
  if (typeof shown === 'string') throw new AppError('not_ready', shown)
  return filesFor(db, shop, message, shown.facts)
}

/** What goes with a mail for whom this is known. Throws AppError where there is nothing to make it of. */
export async function filesFor(
  db: Database,
  shop: Shop,
  message: EmailStep,
  facts: Facts,
): Promise<Attachment[]> {
  try {
    return await attachmentsOf(db, shop, message, facts)
  } catch (error) {
    if (error instanceof RenderError) throw new AppError('not_ready', `${error.message}.`)
    throw error
  }
}
