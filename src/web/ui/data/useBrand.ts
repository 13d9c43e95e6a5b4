import { queryOptions, useQuery } from '@tanstack/react-query'
import { brandSchema, type Brand } from '../../../core/messages/brand.ts'
import { getJson } from './api.ts'

/** The shop's brand; whoever changes it puts the new one in its place. */
export const BRAND = queryOptions({
  queryKey: ['brand'],
  queryFn: () => getJson('/api/brand', brandSchema),
  staleTime: Infinity,
})

/** The shop's brand, as soon as it is there. */
export const useBrand = (): Brand | undefined => useQuery(BRAND).data
