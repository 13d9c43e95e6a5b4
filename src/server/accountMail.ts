import { randomUUID } from 'node:crypto'
import type { Mailer } from '../backend/messages/index.ts'
import { AppError } from '../backend/platform/errors.ts'
import { realNow } from '../backend/platform/realTime.ts'
import type { Shop } from '../backend/shop/index.ts'

export interface AccountMail {
  /** `added`: to a further shop, by who has an account. */
  kind:
    | 'invitation'
    | 'added'
    | 'reset'
    | 'changed'
    | 'factorOn'
    | 'factorOff'
    | 'passkeyMade'
    | 'passkeyGone'
    | 'askedLive'
  to: string
  url: string
}

const TEXTS: Readonly<Record<AccountMail['kind'], (shop: string, url: string) => [subject: string, text: string]>> = {
  invitation: (shop, url) => [
    `You can work on the messages of ${shop}`,
    `${shop} writes to its customers with Yomble, and has made an account for you.\n\nChoose a password here; the link works once, for seven days:\n${url}\n\nIf you expected nothing of the kind, do nothing.\n`,
  ],
  added: (shop, url) => [
    `You can work on the messages of ${shop}, too`,
    `${shop} has let you in. Sign in as ever, and choose it at the top:\n${url}\n`,
  ],
  factorOn: (shop, url) => [
    'Signing in takes a second factor now',
    `From now on it takes a code of a device to sign in to Yomble with your account (${shop}).\n\nIf it was not you, ask for a link for a new password at once, and have an operator turn the second factor off:\n${url}\n`,
  ],
  factorOff: (shop, url) => [
    'Signing in takes no second factor any more',
    `The second factor of your account (${shop}) in Yomble was turned off: your password alone is enough.\n\nIf it was not you, ask for a link for a new password at once:\n${url}\n`,
  ],
  passkeyMade: (shop, url) => [
    'A passkey was added to your account',
    `From now on one more passkey signs in to Yomble with your account (${shop}). You see it under “Your account”, and can remove it there.\n\nIf it was not you, remove it, and ask for a link for a new password at once:\n${url}\n`,
  ],
  passkeyGone: (shop, url) => [
    'A passkey was removed from your account',
    `A passkey no longer signs in to Yomble with your account (${shop}).\n\nIf it was not you, ask for a link for a new password at once:\n${url}\n`,
  ],
  askedLive: (shop, url) => [
    `A workflow of ${shop} waits for you to go live`,
    `Somebody has finished a workflow of ${shop} and asks that it go live. In this shop that takes two; look at it, and put it live here:\n${url}\n`,
  ],
  reset: (shop, url) => [
    'A new password for Yomble',
    `Somebody, hopefully you, has forgotten the password for ${shop} in Yomble.\n\nChoose a new one here; the link works once, for an hour:\n${url}\n\nIf it was not you, do nothing: your password stays as it is.\n`,
  ],
  changed: (shop, url) => [
    'Your password was changed',
    `Your password for ${shop} in Yomble was changed, and you were signed out everywhere else.\n\nIf it was not you, ask for a link for a new one at once:\n${url}\n`,
  ],
} // prettier-ignore

/** Writes to somebody about their own account. Throws AppError `not_ready` where the mail server does not take it. */
export async function sendAccountMail(
  mailer: Mailer,
  shop: Pick<Shop, 'name' | 'defaultSender'>,
  { kind, to, url }: AccountMail,
): Promise<void> {
  const [subject, text] = TEXTS[kind](shop.name, url)
  const sent = await mailer.send({
    messageId: `<account.${randomUUID()}@yomble.invalid>`,
    date: realNow(),
    from: shop.defaultSender,
    replyTo: null,
    to: [to],
    copies: [],
    subject,
    text,
    html: null,
    unsubscribeUrl: null,
  })
  if (sent.kind === 'sent') return
  throw new AppError('not_ready', `The mail server did not take the message: ${sent.error}`)
}
