import { and, eq, isNotNull } from 'drizzle-orm'
import { sameAddress } from '../../core/check/message/addressFindings.ts'
import type { Database } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { findShop, readClock, saveShopFacts, type ShopFactsOf } from '../shop/index.ts'
import { senders } from './tables.ts'

/**
 * Changes what is set of a shop itself. Its own sender becomes another that was confirmed; the one before stays among the others.
 * Throws AppError `bad_input` for an address that was not.
 */
export function changeShop(db: Database, shopId: string, facts: ShopFactsOf): Promise<void> {
  return db.transaction(async (tx) => {
    const { defaultSender: before } = await findShop(tx, shopId)
    const address = facts.senderAddress.toLowerCase()
    if (!sameAddress(address, before.address)) {
      const one = and(eq(senders.shopId, shopId), eq(senders.address, address))
      const taken = await tx.delete(senders).where(and(one, isNotNull(senders.verifiedAt))).returning({ address: senders.address }) // prettier-ignore
      if (taken.length === 0) throw new AppError('bad_input', 'The sender was not changed.', [{ path: 'senderAddress', message: 'was not confirmed' }]) // prettier-ignore
      const { now } = await readClock(tx, shopId)
      await tx.insert(senders).values({ shopId, address: before.address.toLowerCase(), name: before.name, verifiedAt: now }) // prettier-ignore
    }
    await saveShopFacts(tx, shopId, { ...facts, senderAddress: address })
  })
}
