import type { ReactNode } from 'react'
import { plural } from '../../../../core/words/quantities.ts'
import { updateStep } from '../../../../core/workflow/edit.ts'
import { allSteps } from '../../../../core/workflow/lists.ts'
import type { WaitStep } from '../../../../core/workflow/steps.ts'
import { DurationField } from '../fields/DurationField.tsx'
import type { FormProps } from '../formProps.ts'
import { TimeField } from '../fields/TimeField.tsx'

/** A moment that several waits lead to: what is changed here is changed in all of them. */
export function MomentForm({
  definition,
  onChange,
  waits,
}: FormProps & { waits: readonly string[] }): ReactNode {
  const steps = allSteps(definition.steps).filter(
    (step): step is WaitStep => step.kind === 'wait' && waits.includes(step.key),
  )
  const [first] = steps
  if (!first) return <p className="text-secondary">Nothing waits for this moment any more.</p>
  const isSame = steps.every((step) => step.for === first.for && step.at === first.at)
  const changeAll = (over: Partial<WaitStep>) => {
    const changed = steps.reduce(
      (before, { key }) =>
        updateStep(before, key, (step) => (step.kind === 'wait' ? { ...step, ...over } : step)),
      definition,
    )
    onChange(changed, `moment:${waits.join(' ')}`)
  }
  return (
    <>
      <h2 className="mb-1 text-lg">Moment</h2>
      <p className="mb-3 text-xs text-secondary">
        {plural(steps.length, 'wait')} lead to this moment. What you change here changes in each of
        them{isSame ? '' : ', although they differ now'}.
      </p>
      <DurationField
        label="Wait"
        value={first.for}
        onChange={(duration) => changeAll({ for: duration })}
      />
      {first.at !== undefined && (
        <TimeField
          label="Then until, in the recipient’s local time"
          value={first.at}
          onChange={(at) => changeAll({ at })}
        />
      )}
    </>
  )
}
