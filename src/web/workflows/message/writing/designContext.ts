import { createContext, useContext } from 'react'
import type { Block, BlockKind } from '../../../../core/blocks/blocks.ts'

/** The blocks of a designed message while they are written, in their list and on the message itself. */
export interface DesignWriting {
  blocks: readonly Block[]
  /** What can be added. */
  kinds: readonly BlockKind[]
  change: (blocks: Block[], touching?: string) => void
  /** The block that is open in the list and marked on the message; also one within columns. */
  selected: string | null
  select: (key: string | null) => void
}

const DesignContext = createContext<DesignWriting | null>(null)

export const DesignProvider = DesignContext.Provider

/** Null where a message is not designed, or only looked at. */
export const useDesign = (): DesignWriting | null => useContext(DesignContext)
