import { useQuery } from '@tanstack/react-query'
import { clockResponse } from '../../../contract/session.ts'
import { dateIn } from '../../../core/shared/localTime.ts'
import { getJson } from './api.ts'
import { useShop } from './shop.tsx'

/** Tells the date in the shop, `2026-04-14`, by the shop's clock; by this computer's until that is known. */
export function useToday(): () => string {
  const { zone } = useShop()
  const { data } = useQuery({
    queryKey: ['clock'],
    queryFn: () => getJson('/api/clock', clockResponse),
    staleTime: 60_000,
  })
  return () => dateIn(data?.now ?? Date.now(), zone)
}
