import {
  keepPreviousData,
  useInfiniteQuery,
  useQueryClient,
  type InfiniteData,
} from '@tanstack/react-query'
import type { z } from 'zod'
import { getJson, queryOf } from './api.ts'

interface Options<Page> {
  /** What the query is called, for whoever knows that it has changed. */
  key: string
  /** Where the pages are asked for, and what for besides the page. */
  path: string
  filter: Record<string, string | undefined>
  schema: z.ZodType<Page>
  /** Behind which item the next page begins; undefined where there is none. */
  nextOf: (page: Page) => number | undefined
  /** How often it is asked for what is new, while only the newest page is shown. */
  refreshMs: number
}

interface Pages<Page> {
  /** From the newest on; undefined until the first has come. */
  pages: readonly Page[] | undefined
  error: Error | null
  isPending: boolean
  /** What is shown was found for an earlier question. */
  isOutdated: boolean
  refetch: () => void
  /** Asks for the page before the last one; null where there is none. */
  earlier: (() => void) | null
  isFetchingEarlier: boolean
  /** Shows the newest page alone again; null where it is all there is. */
  toNewest: (() => void) | null
}

/** What is too long for one answer, from the newest back: each page is put behind those before it. */
export function usePages<Page>(options: Options<Page>): Pages<Page> {
  const { key, path, filter, schema, nextOf, refreshMs } = options
  const queryKey = [key, filter]
  const queries = useQueryClient()
  const query = useInfiniteQuery({
    queryKey,
    queryFn: ({ pageParam, signal }) =>
      getJson(`${path}${queryOf({ ...filter, before: pageParam })}`, schema, signal),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: nextOf,
    placeholderData: keepPreviousData,
    // Whoever looks back is not to lose the line they read.
    refetchInterval: ({ state }) => ((state.data?.pages.length ?? 0) > 1 ? false : refreshMs),
  })
  const toNewest = () => {
    queries.setQueryData<InfiniteData<Page, number | undefined>>(queryKey, (data) =>
      data ? { pages: data.pages.slice(0, 1), pageParams: data.pageParams.slice(0, 1) } : data,
    )
    void queries.invalidateQueries({ queryKey })
  }
  return {
    pages: query.data?.pages,
    error: query.error,
    isPending: query.isPending,
    isOutdated: query.isPlaceholderData,
    refetch: () => void query.refetch(),
    earlier: query.hasNextPage ? () => void query.fetchNextPage() : null,
    isFetchingEarlier: query.isFetchingNextPage,
    toNewest: (query.data?.pages.length ?? 0) > 1 ? toNewest : null,
  }
}
