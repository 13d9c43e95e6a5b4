import type { ReactNode } from 'react'
import type { FormProps } from '../formProps.ts'
import { StepActions } from '../actions/StepActions.tsx'
import type { StepOf } from '../stepChange.ts'

export function EndForm({ step, ...form }: FormProps & { step: StepOf<'end'> }): ReactNode {
  return (
    <>
      <h2 className="mb-1 text-base">End</h2>
      <p className="text-secondary">
        Whoever gets here is done with this workflow, and nothing after it is sent.
      </p>
      <StepActions {...form} stepKey={step.key} what="this end" />
    </>
  )
}
