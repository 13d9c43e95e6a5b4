import { useMemo } from 'react'
import type { WordContext } from '../../core/words/conditions.ts'
import { useShop } from '../ui/shop.tsx'
import { useProducts } from '../ui/useProducts.ts'
import { useWorkflowNames } from './useWorkflowNames.ts'

/** What sentences about conditions need to know of this shop. */
export function useWords(): WordContext {
  const { locale, zone } = useShop()
  const products = useProducts()
  const names = useWorkflowNames()
  return useMemo(() => {
    const titles = new Map(products.map(({ id, title }) => [id, title]))
    return { locale, zone, titleOf: (kind, id) => (kind === 'products' ? titles : names).get(id) }
  }, [locale, zone, products, names])
}
