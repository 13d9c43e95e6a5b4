import type { ReactNode } from 'react'
import type { MessagesCondition, WorkflowsCondition } from '../../../core/conditions/condition.ts'
import { ChoiceField } from '../fields/fields.tsx'
import { useWorkflowNames } from '../data/useWorkflowNames.ts'
import { useScope } from './scope.ts'
import { WindowField } from './WindowField.tsx'

const STATES = { isIn: 'is in it now', hasBeen: 'has been in it' } as const
const DEEDS = { got: 'got it', opened: 'opened it', clicked: 'clicked in it' } as const

/** "Is in another workflow now", "has been in this one in the last 30 days". */
export function WorkflowsTest({
  value,
  onChange,
}: {
  value: WorkflowsCondition
  onChange: (condition: WorkflowsCondition) => void
}): ReactNode {
  const choices = useWorkflowChoices()
  return (
    <div className="flex flex-col gap-2">
      <ChoiceField
        hideLabel
        label="Workflow"
        value={value.workflow}
        choices={choices}
        onChange={(workflow) => onChange({ ...value, workflow })}
      />
      <ChoiceField
        hideLabel
        label="Now or before"
        value={value.state}
        choices={STATES}
        onChange={(state) => onChange({ ...value, state })}
      />
      {value.state === 'hasBeen' && (
        <WindowField value={value.window} onChange={(window) => onChange({ ...value, window })} />
      )}
    </div>
  )
}

/** "Opened any message of this workflow in the last 30 days". */
export function MessagesTest({
  value,
  onChange,
}: {
  value: MessagesCondition
  onChange: (condition: MessagesCondition) => void
}): ReactNode {
  const choices = useWorkflowChoices()
  const setStep = (step: string) => {
    const { step: _step, ...rest } = value
    onChange(step === '' ? rest : { ...rest, step })
  }
  return (
    <div className="flex flex-col gap-2">
      <ChoiceField
        hideLabel
        label="Workflow"
        value={value.workflow}
        choices={choices}
        onChange={(workflow) => onChange({ ...value, workflow })}
      />
      <input
        aria-label="Key of the message; empty for any"
        placeholder="any message, or a message’s key"
        className="input input-sm w-full"
        value={value.step ?? ''}
        onChange={(event) => setStep(event.target.value.trim())}
      />
      <ChoiceField
        hideLabel
        label="What was done"
        value={value.did}
        choices={DEEDS}
        onChange={(did) => onChange({ ...value, did })}
      />
      <WindowField value={value.window} onChange={(window) => onChange({ ...value, window })} />
    </div>
  )
}

function useWorkflowChoices(): Record<string, string> {
  const names = useWorkflowNames()
  const { isOfPeople = false } = useScope()
  const own = isOfPeople ? {} : { this: 'this workflow' }
  return { any: 'any workflow', ...own, ...Object.fromEntries(names) }
}
