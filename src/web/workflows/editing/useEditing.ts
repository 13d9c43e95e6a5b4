import { useMemo } from 'react'
import {
  clipPath,
  clipStep,
  paste,
  type Clipping,
  type Pasted,
} from '../../../core/workflow/clipping.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import {
  insertStep,
  moveStep,
  placeOf,
  removeArm,
  removeBranch,
  removeStep,
} from '../../../core/workflow/edit.ts'
import type { Place } from '../../../core/workflow/lists.ts'
import type { StepKind } from '../../../core/workflow/steps.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { useLatest } from '../../ui/hooks/useLatest.ts'
import { focusInspector } from '../inspector/focus.ts'
import { newLottery, newStep } from '../newSteps.ts'
import type { Selection } from '../selection.ts'

/** What can be done to a workflow on its timetable and in its outline alike. */
export interface Editing {
  insert: (place: Place, kind: StepKind) => void
  /** True when there was something to remove. */
  remove: (target: Selection) => boolean
  move: (key: string, to: Place) => void
  /** What is copied of a target; null for what cannot be. */
  clip: (target: Selection) => Clipping | null
  /** Puts a copy after the target. */
  pasteAfter: (target: Selection, clipping: Clipping) => void
}

/** The place after what is selected: after a step, at the begin of a path, or of the workflow. */
export function placeAfter(definition: Definition, target: Selection): Place {
  if (target.kind === 'branch') {
    return { list: { branching: target.branching, branch: target.branch }, index: 0 }
  }
  const place = target.kind === 'step' ? placeOf(definition, target.key) : null
  return place ? { list: place.list, index: place.index + 1 } : { list: null, index: 0 }
}

/**
 * The edits of a draft, each of which also shows what it has changed. They stay the same while the
 * draft changes, so that what offers them need not be drawn anew.
 */
export function useEditing(
  definition: Definition,
  change: (to: Definition) => void,
  select: (selection: Selection) => void,
): Editing {
  const { defaultSender } = useShop()
  const latest = useLatest(definition)
  return useMemo(
    () => ({
      insert: (place, kind) => {
        const step = newStep(latest.current, kind, defaultSender)
        change(insertStep(latest.current, place, step))
        select({ kind: 'step', key: step.key })
        focusInspector()
      },
      remove: (target) => {
        const removed = without(latest.current, target)
        if (removed === latest.current) return false
        change(removed)
        select({ kind: 'workflow' })
        return true
      },
      move: (key, to) => {
        const moved = moveStep(latest.current, key, to)
        if (moved === latest.current) return
        change(moved)
        select({ kind: 'step', key })
      },
      clip: (target) => {
        if (target.kind === 'step') return clipStep(latest.current, target.key)
        if (target.kind !== 'branch') return null
        return clipPath(latest.current, target.branching, target.branch)
      },
      pasteAfter: (target, clipping) => {
        const before = latest.current
        const pasted = paste(before, placeAfter(before, target), clipping, newLottery)
        change(pasted.definition)
        select(selectionOfPasted(pasted))
      },
    }),
    [latest, change, select, defaultSender],
  )
}

/** The workflow without a step or a path; as it was for what cannot be removed. */
function without(definition: Definition, target: Selection): Definition {
  if (target.kind === 'step') return removeStep(definition, target.key)
  if (target.kind !== 'branch' || target.branch === null) return definition
  const { branching, branch } = target
  return removeArm(removeBranch(definition, branching, branch), branching, branch)
}

export function selectionOfPasted({ key, branching }: Pasted): Selection {
  return branching === null ? { kind: 'step', key } : { kind: 'branch', branching, branch: key }
}
