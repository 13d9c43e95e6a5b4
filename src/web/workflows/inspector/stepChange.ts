import { updateStep } from '../../../core/workflow/edit.ts'
import type { Step, StepKind } from '../../../core/workflow/steps.ts'
import type { FormProps } from './formProps.ts'

export type StepOf<Kind extends StepKind> = Extract<Step, { kind: Kind }>

/**
 * A function that changes a step: it is given the properties to set; `undefined` takes one out.
 * `touching` names what is being typed into, so that it is undone in one go.
 */
export function stepChanger<Kind extends StepKind>(
  { definition, onChange }: Pick<FormProps, 'definition' | 'onChange'>,
  step: StepOf<Kind>,
) {
  return (to: { [Key in keyof StepOf<Kind>]?: StepOf<Kind>[Key] | undefined }, touching?: string) =>
    onChange(
      updateStep(definition, step.key, (one) => {
        const entries = Object.entries({ ...one, ...to }).filter(([, value]) => value !== undefined)
        return Object.fromEntries(entries) as unknown as Step
      }),
      touching && `${touching} ${step.key}`,
    )
}
