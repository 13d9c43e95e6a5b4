import { ArrowDown, ArrowUp, Plus } from 'lucide-react'
import type { ReactNode } from 'react'
import { conditionWords } from '../../../../core/words/conditions.ts'
import { addArm, addBranch, moveBranch } from '../../../../core/workflow/edit.ts'
import { MOST_ARMS, MOST_PATHS } from '../../../../core/workflow/steps.ts'
import { TextField } from '../../../ui/fields/fields.tsx'
import { newArm, newBranch } from '../../newSteps.ts'
import { useWords } from '../../../ui/data/words.tsx'
import { ContentsTable } from '../contents/ContentsTable.tsx'
import { focusInspector } from '../focus.ts'
import type { FormProps } from '../formProps.ts'
import { StepActions } from '../actions/StepActions.tsx'
import { TestPlanForm } from './TestPlanForm.tsx'
import { stepChanger, type StepOf } from '../stepChange.ts'

export function SplitForm({ step, ...form }: FormProps & { step: StepOf<'split'> }): ReactNode {
  const { definition, onChange } = form
  const open = (branch: string) => openBranch(form, step.key, branch)
  const words = useWords()
  const add = () => {
    const branch = newBranch(definition, step.branches)
    onChange(addBranch(definition, step.key, branch))
    open(branch.key)
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
            <button type="button" className="min-w-0 flex-1 text-left" onClick={() => open(key)}>
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
      <AddBranch label="Add a path" isFull={step.branches.length >= MOST_PATHS} onAdd={add} />
      <ContentsTable step={step} {...form} />
      <div>
        <StepActions {...form} stepKey={step.key} what="this split and all its paths" />
      </div>
    </>
  )
}

export function ExperimentForm({
  step,
  ...form
}: FormProps & { step: StepOf<'experiment'> }): ReactNode {
  const { definition, onChange } = form
  const open = (branch: string) => openBranch(form, step.key, branch)
  const change = stepChanger<'experiment'>(form, step)
  const total = step.arms.reduce((sum, { weight }) => sum + weight, 0)
  const share = (weight: number) => (total === 0 ? 0 : Math.round((100 * weight) / total))
  const add = () => {
    const arm = newArm(definition, step.arms)
    onChange(addArm(definition, step.key, arm))
    open(arm.key)
  }
  return (
    <>
      <h2 className="mb-1 text-base">Experiment</h2>
      <p className="mb-3 text-xs text-secondary">
        People part by chance. The same person gets the same arm whenever they come again.
      </p>
      <TextField label="Name" value={step.name} onChange={(name) => change({ name }, 'name')} />
      <TextField
        label="Lottery: experiments with the same name put the same people into the same arms"
        value={step.lottery}
        onChange={(lottery) => lottery !== '' && change({ lottery }, 'lottery')}
      />
      <TestPlanForm
        definition={definition}
        step={step}
        onChange={(plan) => change({ plan }, 'plan')}
      />
      <ol className="flex flex-col gap-2">
        {step.arms.map(({ key, name, weight, holdout }) => (
          <li key={key}>
            <button
              type="button"
              className="flex w-full justify-between rounded-field border border-base-300 p-2 text-left"
              onClick={() => open(key)}
            >
              <span className="font-medium">
                {name || 'Unnamed arm'}
                {holdout && <span className="text-secondary"> gets nothing</span>}
              </span>
              <span className="font-mono text-xs">{share(weight)} %</span>
            </button>
          </li>
        ))}
      </ol>
      <AddBranch label="Add an arm" isFull={step.arms.length >= MOST_ARMS} onAdd={add} />
      <div>
        <StepActions {...form} stepKey={step.key} what="this experiment and all its arms" />
      </div>
    </>
  )
}

interface AddProps {
  label: string
  /** There are as many as there can be. */
  isFull: boolean
  onAdd: () => void
}

function AddBranch({ label, isFull, onAdd }: AddProps): ReactNode {
  return (
    <button
      type="button"
      className="btn btn-sm mt-3"
      disabled={isFull}
      title={isFull ? 'There are as many as there can be' : undefined}
      onClick={onAdd}
    >
      <Plus size={14} aria-hidden="true" /> {label}
    </button>
  )
}

/** Selects a path or arm, and puts the cursor into its name. */
function openBranch({ onSelect }: FormProps, branching: string, branch: string): void {
  focusInspector()
  onSelect({ kind: 'branch', branching, branch })
}
