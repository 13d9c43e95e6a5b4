import { randomUUID } from 'node:crypto'
import type { Mailer, OutgoingMail } from '../../backend/messages/index.ts'
import type { Database } from '../../backend/platform/db.ts'
import { AppError } from '../../backend/platform/errors.ts'
import type { Recommender } from '../../backend/recommend/index.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import { zoneOf } from '../../core/events/facts.ts'
import { leavingOf, MOST_IN_A_SERIES, type Leaving } from '../../core/rehearsal/rehearse.ts'
import { MINUTE_MS } from '../../core/shared/duration.ts'
import { dateWords } from '../../core/words/quantities.ts'
import { STEP_WORDS } from '../../core/words/steps.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { allSteps } from '../../core/workflow/lists.ts'
import type { Subject } from '../../core/workflow/rehearsalSubject.ts'
import { isMessage, type MessageStep } from '../../core/workflow/steps.ts'
import { previewWith, previewWayOut, type PreviewResult } from './preview.ts'
import { filesFor } from './testMail.ts'

/** Somebody made up, and the workflow that they are taken through. */
export interface Rehearsal {
  definition: Definition
  subject: Subject
}

interface Given {
  publicUrl: string
  recommender: Recommender
}

/** A message that leaves in a rehearsal. */
interface LeavingMessage extends Leaving {
  message: MessageStep
}

/**
 * A message of a rehearsal as it would be for whom it is, at its moment: the one at `place` of all that leave. Nothing
 * is sent or kept. Null where there is none.
 */
export async function previewRehearsed(
  db: Database,
  shopId: string,
  { place, ...rehearsal }: Rehearsal & { place: number },
  given: Given,
): Promise<PreviewResult | null> {
  const shop = await findShop(db, shopId)
  const one = messagesLeaving(rehearsal, shop)[place]
  return one ? previewWith(db, shop, { ...given, message: one.message }, one.facts) : null
}

/** Somebody made up is in no holdout: that is drawn for people. */
function messagesLeaving({ definition, subject }: Rehearsal, shop: Shop): LeavingMessage[] {
  const messages = new Map(allSteps(definition.steps).filter(isMessage).map((step) => [step.key, step])) // prettier-ignore
  return leavingOf(definition, subject, { ...shop, holdout: null }).flatMap((leaving) => {
    const message = messages.get(leaving.step)
    return message ? [{ ...leaving, message }] : []
  })
}

/**
 * Sends the messages of a rehearsal, the first thirty of many, to a colleague at once: each a mail that says which it is and when it would leave, a
 * minute apart in a mailbox. Text messages and notes come as mails. Returns how many. Throws AppError where one cannot be
 * rendered, before any is sent, or the mail server does not take one.
 */
export async function sendSeries(
  db: Database,
  mailer: Mailer,
  shopId: string,
  { to, ...rehearsal }: Rehearsal & { to: string },
  given: Given,
): Promise<number> {
  const shop = await findShop(db, shopId)
  const { now } = await readClock(db, shopId)
  const leaving = messagesLeaving(rehearsal, shop).slice(0, MOST_IN_A_SERIES)
  const mails: OutgoingMail[] = []
  for (const [index, one] of leaving.entries()) {
    const which = `${index + 1} of ${leaving.length}`
    const date = now - (leaving.length - 1 - index) * MINUTE_MS
    mails.push({ ...(await mailOf(db, shop, one, { ...given, which })), date, to: [to] })
  }
  for (const mail of mails) {
    const result = await mailer.send(mail)
    if (result.kind !== 'sent') {
      throw new AppError('not_ready', `The mail server did not take it: ${result.error}`)
    }
  }
  return mails.length
}

async function mailOf(
  db: Database,
  shop: Shop,
  { message, facts, at }: LeavingMessage,
  { which, publicUrl, recommender }: Given & { which: string },
): Promise<OutgoingMail> {
  const rendered = await previewWith(db, shop, { message, publicUrl, recommender }, facts)
  const name = message.name || STEP_WORDS[message.kind]
  if (rendered.problem !== null) {
    throw new AppError('not_ready', `“${name}” cannot be sent: ${rendered.problem}`)
  }
  const isEmail = message.kind === 'email'
  const what = message.kind === 'sms' ? `Text message “${name}”` : rendered.subject
  return {
    messageId: `<test.${randomUUID()}@yomble.invalid>`,
    date: at,
    from: isEmail ? message.sender : shop.defaultSender,
    replyTo: isEmail ? (message.replyTo ?? null) : null,
    to: [],
    copies: [],
    subject: `[Test ${which}, ${dateWords(at, zoneOf(facts))}] ${what}`,
    text: rendered.text,
    html: rendered.html,
    attachments: isEmail ? await filesFor(db, shop, message, facts) : [],
    unsubscribeUrl: isEmail && message.purpose === 'marketing' ? previewWayOut(publicUrl) : null,
  }
}
