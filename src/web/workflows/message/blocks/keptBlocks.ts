import { useQuery, useQueryClient } from '@tanstack/react-query'
import { createContext, useContext, useMemo } from 'react'
import {
  keptBlocksMade,
  keptBlocksResponse,
  type KeptBlocksResponse,
} from '../../../../contract/messages.ts'
import type { LeafBlock } from '../../../../core/blocks/blocks.ts'
import { getJson, send, sendJson } from '../../../ui/data/api.ts'

type Saved = KeptBlocksResponse[number]

/** The blocks a shop has kept for its messages, and what can be done with them. */
export interface KeptBlocks {
  all: readonly Saved[]
  /** Keeps blocks under a name; resolves to the id they are used by. */
  keep: (name: string, blocks: LeafBlock[]) => Promise<string>
  /** Changes kept blocks wherever they are used. */
  change: (kept: Saved) => Promise<void>
}

const NONE: KeptBlocks = {
  all: [],
  keep: () => Promise.reject(new Error('Nothing can be kept here')),
  change: () => Promise.reject(new Error('Nothing can be kept here')),
}

const SavedContext = createContext<KeptBlocks>(NONE)

export const SavedProvider = SavedContext.Provider

export const useSaved = (): KeptBlocks => useContext(SavedContext)

/** Fetches the kept blocks; previews are made anew when one of them changes. */
export function useKeptBlocks(): KeptBlocks {
  const queries = useQueryClient()
  const { data } = useQuery({
    queryKey: ['kept-blocks'],
    queryFn: () => getJson('/api/kept-blocks', keptBlocksResponse),
  })
  return useMemo(() => {
    const refresh = async () => {
      await queries.invalidateQueries({ queryKey: ['kept-blocks'] })
      await queries.invalidateQueries({ queryKey: ['preview'] })
    }
    return {
      all: data ?? [],
      keep: async (name, blocks) => {
        const { id } = await sendJson('POST', '/api/kept-blocks', keptBlocksMade, {
          name,
          blocks,
        })
        await refresh()
        return id
      },
      change: async ({ id, name, blocks }) => {
        await send('PUT', `/api/kept-blocks/${id}`, { name, blocks })
        await refresh()
      },
    }
  }, [data, queries])
}
