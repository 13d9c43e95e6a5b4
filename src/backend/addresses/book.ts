import { asc, eq } from 'drizzle-orm'
import type { AddressBook } from '../../core/check/message/addressFindings.ts'
import type { Db } from '../platform/db.ts'
import { findShop } from '../shop/index.ts'
import { groupsOf } from './staffGroups.ts'
import { senders } from './tables.ts'

/** From whom a shop's messages may come, its own sender first, and the groups of its staff. */
export async function addressBook(db: Db, shopId: string): Promise<AddressBook> {
  const { defaultSender, brand } = await findShop(db, shopId)
  const others = await db
    .select()
    .from(senders)
    .where(eq(senders.shopId, shopId))
    .orderBy(asc(senders.address))
  return {
    senders: [
      { ...defaultSender, verified: true },
      ...others.map(({ address, name, verifiedAt }) => ({
        address,
        name,
        verified: verifiedAt !== null,
      })),
    ],
    groups: await groupsOf(db, shopId),
    postalAddress: brand.postalAddress,
  }
}
