import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/react-query'
import {
  peopleCountResponse,
  peopleResponse,
  type PeopleCount,
  type PeopleQuery,
  type PersonRow,
} from '../../contract/people.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import { sendJson } from '../ui/data/api.ts'

/** Which people are asked for. */
export interface Which {
  search: string
  condition: Condition | null
}

interface People {
  people: readonly PersonRow[] | undefined
  error: Error | null
  isOutdated: boolean
  refetch: () => void
  /** Asks for those that come next; null where there are none. */
  more: (() => void) | null
  isFetchingMore: boolean
}

/** The people of a search and a condition, page by page. */
export function usePeople(which: Which, sort: NonNullable<PeopleQuery['sort']>): People {
  const query = useInfiniteQuery({
    queryKey: ['people', which, sort],
    queryFn: ({ pageParam: after, signal }) =>
      sendJson('POST', '/api/people/search', peopleResponse, { ...which, sort, after }, signal),
    initialPageParam: null as string | null,
    getNextPageParam: ({ after }) => after,
    placeholderData: keepPreviousData,
  })
  return {
    people: query.data?.pages.flatMap(({ people }) => people),
    error: query.error,
    isOutdated: query.isPlaceholderData,
    refetch: () => void query.refetch(),
    more: query.hasNextPage ? () => void query.fetchNextPage() : null,
    isFetchingMore: query.isFetchingNextPage,
  }
}

/** For how many people a search and a condition hold; undefined until it is known. */
export function usePeopleCount(which: Which): PeopleCount | undefined {
  const { data, isPlaceholderData } = useQuery({
    queryKey: ['people', 'count', which],
    queryFn: ({ signal }) =>
      sendJson('POST', '/api/people/count', peopleCountResponse, which, signal),
    placeholderData: keepPreviousData,
    retry: false,
  })
  return isPlaceholderData ? undefined : data
}
