import { useQuery, useQueryClient } from '@tanstack/react-query'
import { createContext, useContext, useMemo } from 'react'
import {
  savedBlocksMade,
  savedBlocksResponse,
  type SavedBlocksResponse,
} from '../../../../contract/messages.ts'
import type { LeafBlock } from '../../../../core/messages/blocks.ts'
import { getJson, send, sendJson } from '../../../ui/api.ts'

type Saved = SavedBlocksResponse[number]

/** The blocks a shop has kept for its messages, and what can be done with them. */
export interface SavedBlocks {
  all: readonly Saved[]
  /** Keeps blocks under a name; resolves to the id they are used by. */
  keep: (name: string, blocks: LeafBlock[]) => Promise<string>
  /** Changes kept blocks wherever they are used. */
  change: (saved: Saved) => Promise<void>
}

const NONE: SavedBlocks = {
  all: [],
  keep: () => Promise.reject(new Error('Nothing can be kept here')),
  change: () => Promise.reject(new Error('Nothing can be kept here')),
}

const SavedContext = createContext<SavedBlocks>(NONE)

export const SavedProvider = SavedContext.Provider

export const useSaved = (): SavedBlocks => useContext(SavedContext)

/** Fetches the kept blocks; previews are made anew when one of them changes. */
export function useSavedBlocks(): SavedBlocks {
  const queries = useQueryClient()
  const { data } = useQuery({
    queryKey: ['saved-blocks'],
    queryFn: () => getJson('/api/saved-blocks', savedBlocksResponse),
  })
  return useMemo(() => {
    const refresh = async () => {
      await queries.invalidateQueries({ queryKey: ['saved-blocks'] })
      await queries.invalidateQueries({ queryKey: ['preview'] })
    }
    return {
      all: data ?? [],
      keep: async (name, blocks) => {
        const { id } = await sendJson('POST', '/api/saved-blocks', savedBlocksMade, {
          name,
          blocks,
        })
        await refresh()
        return id
      },
      change: async ({ id, name, blocks }) => {
        await send('PUT', `/api/saved-blocks/${id}`, { name, blocks })
        await refresh()
      },
    }
  }, [data, queries])
}
