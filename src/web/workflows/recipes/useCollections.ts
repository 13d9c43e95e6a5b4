import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { combinationsResponse } from '../../../contract/counts.ts'
import { sendJson } from '../../ui/api.ts'

const ALL_ORDERS = { trigger: { kind: 'event', event: 'order.placed' }, branches: [] }

/** The collections of the shop's orders of the last year, what is ordered most often first. */
export function useCollections(): string[] {
  const { data } = useQuery({
    queryKey: ['combinations', 'all'],
    queryFn: () =>
      sendJson('POST', '/api/conditions/combinations', combinationsResponse, ALL_ORDERS),
    staleTime: 60_000,
  })
  return useMemo(() => {
    const orders = new Map<string, number>()
    for (const combination of data ?? []) {
      for (const name of combination.collections) {
        orders.set(name, (orders.get(name) ?? 0) + combination.orders)
      }
    }
    return [...orders].toSorted((a, b) => b[1] - a[1]).map(([name]) => name)
  }, [data])
}
