import { useCallback, useMemo } from 'react'
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
import { useShop } from '../../ui/shop.tsx'
import { focusInspector } from '../inspector/focus.ts'
import { newStep } from '../newSteps.ts'
import type { Selection } from '../selection.ts'

/** What can be done to a workflow on its timetable and in its outline alike. */
export interface Editing {
  insert: (place: Place, kind: StepKind) => void
  remove: (target: Selection) => void
  move: (key: string, to: Place) => void
  /** What is copied of a target; null for what cannot be. */
  clip: (target: Selection) => Clipping | null
  /** Puts a copy after the target. */
  pasteAfter: (target: Selection, clipping: Clipping) => void
}

/** The place after what is selected: after a step, at the begin of a path, or of the workflow. */
export function placeAfter(definition: Definition, target: Selection): Place {
  if (target.kind === 'branch') {
    return { list: { fork: target.fork, branch: target.branch }, index: 0 }
  }
  const place = target.kind === 'step' ? placeOf(definition, target.key) : null
  return place ? { list: place.list, index: place.index + 1 } : { list: null, index: 0 }
}

/** The edits of a draft, each of which also shows what it has changed. */
export function useEditing(
  definition: Definition,
  change: (to: Definition) => void,
  select: (selection: Selection) => void,
): Editing {
  const { defaultSender } = useShop()
  const insert = useCallback(
    (place: Place, kind: StepKind) => {
      const step = newStep(definition, kind, defaultSender)
      change(insertStep(definition, place, step))
      select({ kind: 'step', key: step.key })
      focusInspector()
    },
    [definition, change, select, defaultSender],
  )
  return useMemo(
    () => ({
      insert,
      remove: (target) => {
        if (target.kind === 'step') change(removeStep(definition, target.key))
        else if (target.kind === 'branch' && target.branch !== null) {
          const { fork, branch } = target
          change(removeArm(removeBranch(definition, fork, branch), fork, branch))
        } else return
        select({ kind: 'workflow' })
      },
      move: (key, to) => {
        const moved = moveStep(definition, key, to)
        if (moved === definition) return
        change(moved)
        select({ kind: 'step', key })
      },
      clip: (target) => {
        if (target.kind === 'step') return clipStep(definition, target.key)
        return target.kind === 'branch' ? clipPath(definition, target.fork, target.branch) : null
      },
      pasteAfter: (target, clipping) => {
        const pasted = paste(definition, placeAfter(definition, target), clipping)
        change(pasted.definition)
        select(selectionOfPasted(pasted))
      },
    }),
    [definition, change, select, insert],
  )
}

function selectionOfPasted({ key, fork }: Pasted): Selection {
  return fork === null ? { kind: 'step', key } : { kind: 'branch', fork, branch: key }
}
