import { ClipboardPaste, Copy, CopyPlus, Scissors, Trash2, type LucideIcon } from 'lucide-react'
import type { ReactNode } from 'react'
import { toast } from 'sonner'
import { clipStep, paste, type Clipping } from '../../../core/workflow/clipping.ts'
import { placeOf, removeStep } from '../../../core/workflow/edit.ts'
import { carried, carry } from '../editing/carried.ts'
import { newDraw } from '../newSteps.ts'
import { selectionOfPasted } from '../editing/useEditing.ts'
import type { FormProps } from './formProps.ts'

interface Props extends FormProps {
  stepKey: string
  /** How it is called, and all that goes with it: "this split and all its paths". */
  what: string
}

/** What can be done to a step as a whole, for those who do not know the keys for it. */
export function StepActions({ definition, onChange, onSelect, stepKey, what }: Props): ReactNode {
  const remove = () => {
    onChange(removeStep(definition, stepKey))
    onSelect({ kind: 'workflow' })
  }
  const take = (cut: boolean) => {
    const clipping = clipStep(definition, stepKey)
    if (!clipping) return
    carry(clipping, cut)
    if (cut) remove()
    toast.success(
      `${cut ? 'Cut' : 'Copied'}. Paste it after any step, here or in another workflow.`,
    )
  }
  const putAfter = (clipping: Clipping | null) => {
    const place = placeOf(definition, stepKey)
    if (!clipping || !place) {
      toast.error('There are no steps to paste. Copy some first, here or elsewhere.')
      return
    }
    const pasted = paste(definition, { ...place, index: place.index + 1 }, clipping, newDraw)
    onChange(pasted.definition)
    onSelect(selectionOfPasted(pasted))
  }
  return (
    <div className="mt-4 flex flex-wrap gap-1" role="group" aria-label={`What to do with ${what}`}>
      <Action
        Icon={CopyPlus}
        label="Duplicate"
        onClick={() => putAfter(clipStep(definition, stepKey))}
      />
      <Action Icon={Copy} label="Copy" onClick={() => take(false)} />
      <Action Icon={Scissors} label="Cut" onClick={() => take(true)} />
      <Action Icon={ClipboardPaste} label="Paste after it" onClick={() => putAfter(carried())} />
      <Action Icon={Trash2} label={`Remove ${what}`} onClick={remove} />
    </div>
  )
}

function Action({
  Icon,
  label,
  onClick,
}: {
  Icon: LucideIcon
  label: string
  onClick: () => void
}): ReactNode {
  return (
    <button type="button" className="btn btn-ghost btn-sm" onClick={onClick}>
      <Icon size={14} aria-hidden="true" /> {label}
    </button>
  )
}
