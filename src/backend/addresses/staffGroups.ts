import { and, asc, eq, inArray } from 'drizzle-orm'
import type { StaffGroup } from '../../core/check/message/addressFindings.ts'
import type { Db } from '../platform/db.ts'
import { staffGroups } from './tables.ts'

/** The groups of a shop's staff, by name; of some keys only, if they are given. */
export async function groupsOf(
  db: Db,
  shopId: string,
  keys?: readonly string[],
): Promise<StaffGroup[]> {
  return db
    .select({ key: staffGroups.key, name: staffGroups.name, addresses: staffGroups.addresses })
    .from(staffGroups)
    .where(and(eq(staffGroups.shopId, shopId), keys && inArray(staffGroups.key, [...keys])))
    .orderBy(asc(staffGroups.name))
}

/** Keeps a group; one of the same key is replaced. */
export async function saveGroup(db: Db, shopId: string, group: StaffGroup): Promise<void> {
  const { key, name, addresses } = group
  const set = { name, addresses: [...addresses] }
  await db
    .insert(staffGroups)
    .values({ shopId, key, ...set })
    .onConflictDoUpdate({ target: [staffGroups.shopId, staffGroups.key], set })
}

/** Takes a group out; who is in it gets no more by it. */
export async function removeGroup(db: Db, shopId: string, key: string): Promise<void> {
  await db.delete(staffGroups).where(and(eq(staffGroups.shopId, shopId), eq(staffGroups.key, key)))
}
