import { createContext, useContext, useMemo, type ReactNode } from 'react'
import type { WordContext } from '../../core/words/conditions.ts'
import { useShop } from '../ui/data/shop.tsx'
import { useAddressBook } from '../ui/data/useAddressBook.ts'
import { useProducts } from '../ui/data/useProducts.ts'
import { useWorkflowNames } from '../ui/data/useWorkflowNames.ts'

const Words = createContext<WordContext | null>(null)

/** What sentences about conditions need to know of this shop. Throws outside of a WordsProvider. */
export function useWords(): WordContext {
  const words = useContext(Words)
  if (!words) throw new Error('Sentences are written within a WordsProvider only')
  return words
}

/** Knows the names of what conditions are about, for all that is within it. */
export function WordsProvider({ children }: { children: ReactNode }): ReactNode {
  const { locale, zone } = useShop()
  const products = useProducts()
  const names = useWorkflowNames()
  const book = useAddressBook()
  const words = useMemo((): WordContext => {
    const all = {
      products: new Map(products.map(({ id, title }) => [id, title])),
      workflows: names,
      groups: new Map((book?.groups ?? []).map(({ key, name }) => [key, name])),
    }
    return { locale, zone, titleOf: (kind, id) => all[kind].get(id) }
  }, [locale, zone, products, names, book])
  return <Words value={words}>{children}</Words>
}
