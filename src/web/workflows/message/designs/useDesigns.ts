import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo } from 'react'
import {
  designMade,
  designResponse,
  designsResponse,
  type DesignBody,
  type KeptDesign,
} from '../../../../contract/messages.ts'
import { getJson, send, sendJson } from '../../../ui/data/api.ts'

type Made = { id: string; revision: number }

/** The designs that a shop has kept, and what can be done with them. */
export interface Designs {
  all: readonly KeptDesign[]
  keep: (design: DesignBody) => Promise<Made>
  change: (design: DesignBody & Made) => Promise<Made>
  rename: (id: string, name: string) => Promise<void>
  remove: (id: string) => Promise<void>
}

export function useDesigns(): Designs {
  const queries = useQueryClient()
  const { data } = useQuery({
    queryKey: ['designs'],
    queryFn: () => getJson('/api/designs', designsResponse),
  })
  return useMemo(() => {
    const done = async <Result>(asked: Promise<Result>): Promise<Result> => {
      const result = await asked
      await queries.invalidateQueries({ queryKey: ['designs'] })
      return result
    }
    return {
      all: data ?? [],
      keep: (design) => done(sendJson('POST', '/api/designs', designMade, design)),
      change: ({ id, ...design }) =>
        done(sendJson('PUT', `/api/designs/${id}`, designMade, design)),
      rename: (id, name) => done(send('PUT', `/api/designs/${id}/name`, { name })),
      remove: (id) => done(send('DELETE', `/api/designs/${id}`)),
    }
  }, [data, queries])
}

/** A design as it was when a message was made of it; it does not change any more. */
export function useDesignRevision(design: Made | undefined) {
  return useQuery({
    queryKey: ['designs', design?.id, design?.revision],
    queryFn: () => getJson(`/api/designs/${design?.id}/revisions/${design?.revision}`, designResponse), // prettier-ignore
    enabled: design !== undefined,
    staleTime: Infinity,
    // One that is kept no longer is nothing to try again for.
    retry: false,
  }).data
}
