import { useQuery } from '@tanstack/react-query'
import { clockResponse } from '../../../contract/session.ts'
import { localTime } from '../../../core/shared/time.ts'
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
  return () => {
    const { year, month, day } = localTime(data?.now ?? Date.now(), zone)
    return `${year}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`
  }
}
