import { createContext, useContext } from 'react'
import type { MergeField } from '../../../../core/messages/mergeFields.ts'

/** The merge fields that a message can have, and what they say for the one it is looked at for. */
export interface Fields {
  fields: readonly MergeField[]
  values: Readonly<Record<string, string>>
  /** Where the shop is, as far as that is known: what stands in for links. */
  site: string | null
  /** Looked at only. */
  isReadOnly: boolean
}

const FieldContext = createContext<Fields>({
  fields: [],
  values: {},
  site: null,
  isReadOnly: false,
})

export const FieldProvider = FieldContext.Provider

export function useFields(): Fields {
  return useContext(FieldContext)
}
