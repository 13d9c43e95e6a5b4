import type { ReactNode } from 'react'
import { clipPath } from '../../../../core/workflow/clipping.ts'
import { allSteps } from '../../../../core/workflow/lists.ts'
import { MOST_PATHS } from '../../../../core/workflow/steps.ts'
import { CopyActions } from './CopyActions.tsx'
import type { FormProps } from '../formProps.ts'

interface Props extends FormProps {
  branching: string
  branch: string | null
  /** How it is called: "this path". */
  what: string
  /** The workflow without it; missing for a way that cannot go. */
  without?: (() => FormProps['definition']) | undefined
}

/**
 * What can be done to a way of a branching step. A path of a split is copied with its condition; of
 * the others, which are no paths elsewhere, only the steps are.
 */
export function BranchActions({ branching, branch, what, without, ...form }: Props): ReactNode {
  const clipping = clipPath(form.definition, branching, branch)
  const isPath = clipping?.kind === 'path'
  const step = allSteps(form.definition.steps).find(({ key }) => key === branching)
  const hasRoom = step?.kind === 'split' && step.branches.length < MOST_PATHS
  return (
    <CopyActions
      {...form}
      what={what}
      clipping={clipping}
      place={{ list: { branching, branch }, index: 0 }}
      copyLabel={isPath ? 'Copy' : 'Copy its steps'}
      pasteLabel="Paste here"
      canDuplicate={isPath && hasRoom}
      remove={
        without &&
        (() => {
          form.onChange(without())
          form.onSelect({ kind: 'step', key: branching })
        })
      }
    />
  )
}
