import { useQuery } from '@tanstack/react-query'
import { z } from 'zod'
import { counterProduct, type CounterProduct } from '../../../contract/counter.ts'
import { getJson } from './api.ts'

// Always the same: what is worked out from it need not be worked out anew.
const NONE: CounterProduct[] = []

/** The shop's products, kept for the visit. */
export function useProducts(): CounterProduct[] {
  const { data } = useQuery({
    queryKey: ['products'],
    queryFn: () => getJson('/api/counter/products', z.array(counterProduct)),
    staleTime: 60_000,
  })
  return data ?? NONE
}
