import { productTitles } from '../../../backend/shop/index.ts'
import type { Db } from '../../../backend/platform/db.ts'
import type { WordContext } from '../../../core/words/conditions.ts'

/**
 * What sentences need to name products and workflows by their titles. They are written once to learn which they
 * ask for, so that a list of forty workflows loads a few titles and not a whole shop's.
 */
export async function withTitles(
  db: Db,
  { names, ...shop }: WordContext & { id: string; names: ReadonlyMap<string, string | undefined> },
  write: (context: WordContext) => void,
): Promise<WordContext> {
  const asked = new Set<string>()
  write({
    ...shop,
    titleOf: (kind, id) => {
      if (kind === 'products') asked.add(id)
      return undefined
    },
  })
  const titles = await productTitles(db, shop.id, [...asked])
  return {
    ...shop,
    titleOf: (kind, id) => (kind === 'products' ? titles : names).get(id),
  }
}
