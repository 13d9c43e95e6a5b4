import { useMemo } from 'react'
import type { WordContext } from '../../core/words/conditions.ts'
import { useShop } from '../ui/shop.tsx'
import { useAddressBook } from '../ui/useAddressBook.ts'
import { useProducts } from '../ui/useProducts.ts'
import { useWorkflowNames } from './useWorkflowNames.ts'

/** What sentences about conditions need to know of this shop. */
export function useWords(): WordContext {
  const { locale, zone } = useShop()
  const products = useProducts()
  const names = useWorkflowNames()
  const book = useAddressBook()
  return useMemo(() => {
    const all = {
      products: new Map(products.map(({ id, title }) => [id, title])),
      workflows: names,
      groups: new Map((book?.groups ?? []).map(({ key, name }) => [key, name])),
    }
    return { locale, zone, titleOf: (kind, id) => all[kind].get(id) }
  }, [locale, zone, products, names, book])
}
