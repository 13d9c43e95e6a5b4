import { createContext, useContext, useMemo, type ReactNode } from 'react'
import type { WordContext } from '../../../core/words/conditions.ts'
import { useShop } from './shop.tsx'
import { useAddressBook } from './useAddressBook.ts'
import { useProducts } from './useProducts.ts'
import { useWorkflowNames } from './useWorkflowNames.ts'

const Words = createContext<WordContext | null>(null)

/** What sentences about conditions need to know of this shop. Throws outside of a WordsProvider. */
export function useWords(): WordContext {
  const words = useContext(Words)
  if (!words) throw new Error('Sentences are written within a WordsProvider only')
  return words
}

/** The same, made anew: for what stands outside of a WordsProvider. */
export function useWordContext(): WordContext {
  const { locale, zone } = useShop()
  const products = useProducts()
  const names = useWorkflowNames()
  const book = useAddressBook()
  return useMemo((): WordContext => {
    const all = {
      products: new Map(products.map(({ id, title }) => [id, title])),
      workflows: names,
      groups: new Map((book?.groups ?? []).map(({ key, name }) => [key, name])),
    }
    return { locale, zone, titleOf: (kind, id) => all[kind].get(id) }
  }, [locale, zone, products, names, book])
}

/** Knows the names of what conditions are about, for all that is within it. */
export function WordsProvider({ children }: { children: ReactNode }): ReactNode {
  return <Words value={useWordContext()}>{children}</Words>
}
