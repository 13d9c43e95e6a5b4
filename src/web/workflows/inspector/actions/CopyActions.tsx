import { ClipboardPaste, Copy, CopyPlus, Scissors, Trash2, type LucideIcon } from 'lucide-react'
import type { ReactNode } from 'react'
import { toast } from 'sonner'
import { paste, type Clipping } from '../../../../core/workflow/clipping.ts'
import type { Place } from '../../../../core/workflow/lists.ts'
import { carried, carry } from '../../editing/carried.ts'
import { selectionOfPasted } from '../../editing/useEditing.ts'
import { newLottery } from '../../newSteps.ts'
import type { FormProps } from '../formProps.ts'

interface Props extends FormProps {
  /** How it is called, and all that goes with it: "this split and all its paths". */
  what: string
  /** What is copied of it; null where there is nothing to copy. */
  clipping: Clipping | null
  /** Where something pasted goes, and how that is said: "Paste after it". */
  place: Place
  pasteLabel: string
  copyLabel?: string
  /** Missing for what a copy of its own cannot stand beside. */
  canDuplicate?: boolean
  /** Missing for what cannot go. */
  remove: (() => void) | undefined
}

/** What can be done to a step or a path as a whole, for those who do not know the keys for it. */
export function CopyActions(props: Props): ReactNode {
  const { definition, onChange, onSelect, what, clipping, place, pasteLabel, remove } = props
  const { copyLabel = 'Copy', canDuplicate = false } = props
  const take = (cut: boolean) => {
    if (!clipping) return
    carry(clipping, cut)
    if (cut) remove?.()
    toast.success(
      `${cut ? 'Cut' : 'Copied'}. Paste it after any step, here or in another workflow.`,
    )
  }
  const put = (given: Clipping | null) => {
    if (!given) {
      toast.error('There are no steps to paste. Copy some first, here or elsewhere.')
      return
    }
    const pasted = paste(definition, place, given, newLottery)
    onChange(pasted.definition)
    onSelect(selectionOfPasted(pasted))
  }
  return (
    <div className="mt-4 flex flex-wrap gap-1" role="group" aria-label={`What to do with ${what}`}>
      {canDuplicate && <Action Icon={CopyPlus} label="Duplicate" onClick={() => put(clipping)} />}
      {clipping && <Action Icon={Copy} label={copyLabel} onClick={() => take(false)} />}
      {clipping && canDuplicate && remove && (
        <Action Icon={Scissors} label="Cut" onClick={() => take(true)} />
      )}
      <Action Icon={ClipboardPaste} label={pasteLabel} onClick={() => put(carried())} />
      {remove && <Action Icon={Trash2} label={`Remove ${what}`} onClick={remove} />}
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
