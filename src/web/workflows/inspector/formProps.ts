import type { Definition } from '../../../core/workflow/definition.ts'
import type { Selection } from '../selection.ts'

export interface InspectorProps {
  definition: Definition
  selection: Selection
  onSelect: (selection: Selection) => void
  onChange: (to: Definition, touching?: string) => void
  readOnly: boolean
}

/** What every form of the inspector works with. */
export type FormProps = Pick<InspectorProps, 'definition' | 'onChange' | 'onSelect'>
