import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { combinationsOf } from '../findings/combinations.ts'

const ORDERS = { kind: 'event', event: 'order.placed' } as const

/** The categories of the shop's orders of the last year, what is ordered most often first; undefined until known. */
export function useCategories(): string[] | undefined {
  const { data } = useQuery(combinationsOf(ORDERS, []))
  return useMemo(() => {
    if (!data) return undefined
    const orders = new Map<string, number>()
    for (const combination of data) {
      for (const name of combination.categories) {
        orders.set(name, (orders.get(name) ?? 0) + combination.orders)
      }
    }
    return [...orders].toSorted((a, b) => b[1] - a[1]).map(([name]) => name)
  }, [data])
}
