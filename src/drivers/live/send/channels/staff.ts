import { groupsOf } from '../../../../backend/addresses/index.ts'
import type { Transaction } from '../../../../backend/platform/db.ts'
import type { Shop } from '../../../../backend/shop/index.ts'
import { addressesOf } from '../../../../core/check/message/addressFindings.ts'

/** Addresses that stand by themselves, and those of groups as they are now. */
export async function staffOf(
  tx: Transaction,
  shop: Shop,
  single: readonly string[],
  groups: readonly string[] | undefined,
): Promise<string[]> {
  return addressesOf(single, groups, groups ? await groupsOf(tx, shop.id, groups) : [])
}
