import type { ReactNode } from 'react'
import { clipStep } from '../../../../core/workflow/clipping.ts'
import { placeOf, removeStep } from '../../../../core/workflow/edit.ts'
import { CopyActions } from './CopyActions.tsx'
import type { FormProps } from '../formProps.ts'

interface Props extends FormProps {
  stepKey: string
  /** How it is called, and all that goes with it: "this split and all its paths". */
  what: string
}

/** What can be done to a step as a whole. */
export function StepActions({ stepKey, what, ...form }: Props): ReactNode {
  const { definition, onChange, onSelect } = form
  const place = placeOf(definition, stepKey)
  if (!place) return null
  return (
    <CopyActions
      {...form}
      what={what}
      clipping={clipStep(definition, stepKey)}
      place={{ ...place, index: place.index + 1 }}
      pasteLabel="Paste after it"
      canDuplicate
      remove={() => {
        onChange(removeStep(definition, stepKey))
        onSelect({ kind: 'workflow' })
      }}
    />
  )
}
