import { Trash2 } from 'lucide-react'
import type { ReactNode } from 'react'
import { removeStep } from '../../../core/workflow/edit.ts'
import type { FormProps } from './formProps.ts'

/** The button that takes a step out. */
export function RemoveStep({
  definition,
  onChange,
  onSelect,
  stepKey,
  what,
}: FormProps & { stepKey: string; what: string }): ReactNode {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm mt-4"
      onClick={() => {
        onChange(removeStep(definition, stepKey))
        onSelect({ kind: 'workflow' })
      }}
    >
      <Trash2 size={14} aria-hidden="true" /> Remove {what}
    </button>
  )
}
