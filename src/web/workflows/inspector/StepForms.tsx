import { ArrowDown, ArrowUp, Plus, Trash2 } from 'lucide-react'
import type { ReactNode } from 'react'
import { conditionWords } from '../../../core/words/conditions.ts'
import type { EndStep, SplitStep, WaitStep } from '../../../core/workflow/definition.ts'
import { addBranch, moveBranch, removeStep, updateStep } from '../../../core/workflow/edit.ts'
import { newBranch } from '../newSteps.ts'
import { useWords } from '../useWords.ts'
import { DurationField } from './DurationField.tsx'
import type { FormProps } from './formProps.ts'

export function RemoveStep({
  definition,
  onChange,
  onSelect,
  stepKey,
  what,
}: FormProps & { stepKey: string; what: string }): ReactNode {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm mt-4"
      onClick={() => {
        onChange(removeStep(definition, stepKey))
        onSelect({ kind: 'workflow' })
      }}
    >
      <Trash2 size={14} aria-hidden="true" /> Remove {what}
    </button>
  )
}

export function WaitForm({ step, ...form }: FormProps & { step: WaitStep }): ReactNode {
  const { definition, onChange } = form
  return (
    <>
      <h2 className="mb-3 text-base">Wait</h2>
      <DurationField
        label="How long"
        value={step.for}
        onChange={(duration) =>
          onChange(
            updateStep(definition, step.key, (one) => ({ ...one, for: duration }) as WaitStep),
            `wait ${step.key}`,
          )
        }
      />
      <p className="text-xs text-secondary">
        Minutes and hours are elapsed time. Days, weeks and months keep the time of day where the
        recipient lives, also when clocks change.
      </p>
      <RemoveStep {...form} stepKey={step.key} what="this wait" />
    </>
  )
}

export function EndForm({ step, ...form }: FormProps & { step: EndStep }): ReactNode {
  return (
    <>
      <h2 className="mb-1 text-base">End</h2>
      <p className="text-secondary">
        Whoever gets here is done with this workflow, and nothing after it is sent.
      </p>
      <RemoveStep {...form} stepKey={step.key} what="this end" />
    </>
  )
}

export function SplitForm({ step, ...form }: FormProps & { step: SplitStep }): ReactNode {
  const { definition, onChange, onSelect } = form
  const words = useWords()
  const add = () => {
    const branch = newBranch(definition, step.branches.length + 1)
    onChange(addBranch(definition, step.key, branch))
    onSelect({ kind: 'branch', split: step.key, branch: branch.key })
  }
  return (
    <>
      <h2 className="mb-1 text-base">Split</h2>
      <p className="mb-3 text-xs text-secondary">
        Asked from top to bottom when someone gets here; the first that holds wins.
      </p>
      <ol className="flex flex-col gap-2">
        {step.branches.map(({ key, name, when }, index) => (
          <li key={key} className="flex items-start gap-1 rounded-field border border-base-300 p-2">
            <button
              type="button"
              className="min-w-0 flex-1 text-left"
              onClick={() => onSelect({ kind: 'branch', split: step.key, branch: key })}
            >
              <span className="font-medium">{name || 'Unnamed path'}</span>
              <span className="block text-xs text-secondary">{conditionWords(when, words)}</span>
            </button>
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Ask ${name} earlier`}
              disabled={index === 0}
              onClick={() => onChange(moveBranch(definition, step.key, key, -1))}
            >
              <ArrowUp size={13} />
            </button>
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Ask ${name} later`}
              disabled={index === step.branches.length - 1}
              onClick={() => onChange(moveBranch(definition, step.key, key, 1))}
            >
              <ArrowDown size={13} />
            </button>
          </li>
        ))}
        <li className="rounded-field border border-dashed border-base-300 p-2 text-secondary">
          Everyone else
        </li>
      </ol>
      <button type="button" className="btn btn-sm mt-3" onClick={add}>
        <Plus size={14} aria-hidden="true" /> Add a path
      </button>
      <div>
        <RemoveStep {...form} stepKey={step.key} what="this split and all its paths" />
      </div>
    </>
  )
}
