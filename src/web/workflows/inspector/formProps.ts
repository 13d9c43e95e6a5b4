import type { ReactNode } from 'react'
import type { Definition } from '../../../core/workflow/definition.ts'
import type { Selection } from '../selection.ts'

export interface InspectorProps {
  definition: Definition
  selection: Selection
  onSelect: (selection: Selection) => void
  onChange: (to: Definition, touching?: string) => void
  readOnly: boolean
  /** What can be done with the workflow as a whole; shown when nothing else is selected. */
  whole: ReactNode
  /** The published versions, and what the draft changes of them. */
  versions: ReactNode
  /** It is what answers the last edit; else it may follow a frame later. */
  isFirst: boolean
}

/** What every form of the inspector works with. */
export type FormProps = Pick<InspectorProps, 'definition' | 'onChange' | 'onSelect'>
