import { randomUUID } from 'node:crypto'
import type { Mailer } from '../../backend/messages/index.ts'
import type { Database } from '../../backend/platform/db.ts'
import { AppError } from '../../backend/platform/errors.ts'
import { findShop, readClock } from '../../backend/shop/index.ts'
import { previewMessage, type PreviewRequest } from './preview.ts'

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
  const { message, to } = request
  if (message.kind === 'sms')
    throw new AppError('bad_input', 'A text message cannot be sent by mail.')
  const preview = await previewMessage(db, shopId, request)
  if (preview.problem !== null) throw new AppError('not_ready', preview.problem)
  const { now } = await readClock(db, shopId)
  const sender =
    message.kind === 'email' ? message.sender : (await findShop(db, shopId)).defaultSender
  const result = await mailer.send({
    messageId: `<test.${randomUUID()}@yomble.invalid>`,
    date: now,
    from: sender,
    replyTo: message.kind === 'email' ? (message.replyTo ?? null) : null,
    to: [to],
    copies: [],
    subject: `[Test] ${preview.subject}`,
    text: preview.text,
    html: preview.html,
    unsubscribeUrl: null,
  })
  if (result.kind !== 'sent') {
    throw new AppError('not_ready', `The mail server did not take it: ${result.error}`)
  }
}
