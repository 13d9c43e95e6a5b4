import { useMemo } from 'react'
import type { WordContext } from '../../core/words/conditions.ts'
import { useShop } from '../ui/shop.tsx'
import { useProducts } from '../ui/useProducts.ts'

/** What sentences about conditions need to know of this shop. */
export function useWords(): WordContext {
  const { locale, zone } = useShop()
  const products = useProducts()
  return useMemo(() => {
    const titles = new Map(products.map(({ id, title }) => [id, title]))
    return { locale, zone, titleOf: (_kind, id) => titles.get(id) }
  }, [locale, zone, products])
}
