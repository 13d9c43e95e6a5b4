import { eq } from 'drizzle-orm'
import type { Db } from '../platform/db.ts'
import { shopPlaces } from './tables.ts'

/** The cell that `DATABASE_URL` leads to; the directory is there. */
export const HOME = 'home'

/** In which cell a shop lives, by the directory in the home cell. */
export async function cellOf(home: Db, shopId: string): Promise<string> {
  const [row] = await home
    .select({ cell: shopPlaces.cell })
    .from(shopPlaces)
    .where(eq(shopPlaces.shopId, shopId))
  return row?.cell ?? HOME
}

/** Says in the directory where a shop lives from now on. */
export async function placeShop(home: Db, shopId: string, cell: string): Promise<void> {
  if (cell === HOME) {
    await home.delete(shopPlaces).where(eq(shopPlaces.shopId, shopId))
    return
  }
  await home
    .insert(shopPlaces)
    .values({ shopId, cell })
    .onConflictDoUpdate({ target: shopPlaces.shopId, set: { cell } })
}
