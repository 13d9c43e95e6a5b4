import { and, eq, isNull } from 'drizzle-orm'
import type { Sender } from '../../core/check/message/addressFindings.ts'
import { sameAddress } from '../../core/check/message/addressFindings.ts'
import type { Mailer } from '../messages/index.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { readClock, type Shop } from '../shop/index.ts'
import { senders } from './tables.ts'

/** Where a sender's confirmation is asked for. */
export interface Confirmation {
  mailer: Mailer
  /** The page of the link, for the mail. */
  url: string
  messageId: string
}

/**
 * Adds a sender, or gives one another name, and writes to the address for its confirmation unless it
 * has it. Throws AppError `conflict` for the shop's own, `not_ready` when the mail server refuses.
 */
export async function addSender(
  db: Db,
  shop: Shop,
  sender: Pick<Sender, 'address' | 'name'>,
  { mailer, url, messageId }: Confirmation,
): Promise<void> {
  const address = sender.address.toLowerCase()
  if (sameAddress(address, shop.defaultSender.address)) {
    throw new AppError('conflict', `${address} is the shop’s own sender already.`)
  }
  const [{ verifiedAt } = { verifiedAt: null }] = await db
    .insert(senders)
    .values({ shopId: shop.id, address, name: sender.name, verifiedAt: null })
    .onConflictDoUpdate({
      target: [senders.shopId, senders.address],
      set: { name: sender.name },
    })
    .returning({ verifiedAt: senders.verifiedAt })
  if (verifiedAt !== null) return
  const { now } = await readClock(db, shop.id)
  const sent = await mailer.send({
    messageId,
    date: now,
    from: shop.defaultSender,
    replyTo: null,
    to: [address],
    copies: [],
    subject: `May ${shop.name} write to customers from this address?`,
    text: `Somebody at ${shop.name} wants to send messages to customers that come from ${address}.\n\nIf that is right, confirm it here:\n${url}\n\nIf it is not, do nothing.\n`,
    html: null,
    unsubscribeUrl: null,
  })
  if (sent.kind !== 'sent') {
    throw new AppError('not_ready', `The mail server did not take the confirmation: ${sent.error}`)
  }
}

/** Notes that whoever reads an address has agreed. Returns false when nobody has asked for it. */
export async function confirmSender(db: Db, shopId: string, address: string): Promise<boolean> {
  const { now } = await readClock(db, shopId)
  const own = and(eq(senders.shopId, shopId), eq(senders.address, address))
  await db
    .update(senders)
    .set({ verifiedAt: now })
    .where(and(own, isNull(senders.verifiedAt)))
  const found = await db.select().from(senders).where(own)
  return found.length > 0
}

/** Takes a sender out. Messages that are live go on coming from it. */
export async function removeSender(db: Db, shopId: string, address: string): Promise<void> {
  await db
    .delete(senders)
    .where(and(eq(senders.shopId, shopId), eq(senders.address, address.toLowerCase())))
}
