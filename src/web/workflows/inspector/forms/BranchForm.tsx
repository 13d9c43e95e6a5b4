import { wayName } from '../../../../core/words/wayNames.ts'
import type { ReactNode } from 'react'
import { CAME, allSteps, listsOf } from '../../../../core/workflow/lists.ts'
import { removeArm, removeBranch, updateArm, updateBranch } from '../../../../core/workflow/edit.ts'
import type { Arm, SplitBranch } from '../../../../core/workflow/steps.ts'
import { NumberField, TextField } from '../../../ui/fields/fields.tsx'
import { BranchActions } from '../actions/BranchActions.tsx'
import { ConditionEditor } from '../../../ui/conditions/ConditionEditor.tsx'
import { HeldAtStep } from '../fields/HeldCount.tsx'
import type { FormProps } from '../formProps.ts'
import type { StepOf } from '../stepChange.ts'
import { TickField } from '../../../ui/fields/TickField.tsx'

/** One way of a branching step: a path of a split, an arm, or what becomes of a wait for an event. */
export function BranchForm({
  branching,
  branch,
  ...form
}: FormProps & { branching: string; branch: string | null }): ReactNode {
  const step = allSteps(form.definition.steps).find(({ key }) => key === branching)
  const back = (
    <button
      type="button"
      className="btn btn-ghost btn-xs mb-2 -ml-2"
      onClick={() => form.onSelect({ kind: 'step', key: branching })}
    >
      ← the whole {step?.kind === 'experiment' ? 'experiment' : 'step'}
    </button>
  )
  return (
    <>
      {back}
      {step?.kind === 'split' && <PathForm {...form} step={step} branch={branch} />}
      {step?.kind === 'experiment' && <ArmForm {...form} step={step} arm={branch} />}
      {step?.kind === 'waitFor' && (
        <>
          <h2 className="mb-1 text-base">
            {listsOf(step).flatMap((list) => (list.branch === branch ? wayName(step, list) : []))}
          </h2>
          <p className="text-secondary">
            {branch === CAME
              ? 'Whoever it came to within the limit goes this way, as soon as it does.'
              : 'Whoever it did not come to goes this way when the limit is over.'}
          </p>
          <BranchActions {...form} branching={branching} branch={branch} what="this way" />
        </>
      )}
    </>
  )
}

function PathForm({
  step,
  branch,
  ...form
}: FormProps & { step: StepOf<'split'>; branch: string | null }): ReactNode {
  const { definition, onChange } = form
  const found = step.branches.find(({ key }) => key === branch)
  if (!found) {
    return (
      <>
        <h2 className="mb-1 text-base">Everyone else</h2>
        <p className="text-secondary">Whoever no other path of this split takes goes this way.</p>
        <BranchActions {...form} branching={step.key} branch={null} what="this path" />
      </>
    )
  }
  const change = (to: Partial<SplitBranch>) =>
    onChange(
      updateBranch(definition, step.key, found.key, (one) => ({ ...one, ...to })),
      `branch ${found.key}`,
    )
  return (
    <>
      <h2 className="mb-3 text-base">Path</h2>
      <TextField label="Name" value={found.name} onChange={(name) => change({ name })} />
      <h3 className="field-label">Who travels on it</h3>
      <ConditionEditor key={found.key} value={found.when} onChange={(when) => change({ when })} />
      <HeldAtStep
        definition={definition}
        step={step.key}
        condition={found.when}
        above={step.branches.slice(0, step.branches.indexOf(found)).map(({ when }) => when)}
      />
      <BranchActions
        {...form}
        branching={step.key}
        branch={found.key}
        what="this path"
        without={
          step.branches.length > 1 ? () => removeBranch(definition, step.key, found.key) : undefined
        }
      />
    </>
  )
}

function ArmForm({
  step,
  arm,
  ...form
}: FormProps & { step: StepOf<'experiment'>; arm: string | null }): ReactNode {
  const { definition, onChange } = form
  const found = step.arms.find(({ key }) => key === arm)
  if (!found) return null
  const change = (to: Partial<Arm>) =>
    onChange(
      updateArm(definition, step.key, found.key, (one) => ({ ...one, ...to })),
      `arm ${found.key}`,
    )
  return (
    <>
      <h2 className="mb-3 text-base">Arm</h2>
      <TextField label="Name" value={found.name} onChange={(name) => change({ name })} />
      <NumberField
        label="Weight, compared with the other arms"
        value={found.weight}
        min={0}
        max={1000}
        onChange={(weight) => change({ weight })}
      />
      <TickField
        checked={found.holdout ?? false}
        disabled={!found.holdout && found.steps.length > 0}
        onChange={(checked) => change({ holdout: checked })}
      >
        holdout: gets nothing of this experiment
      </TickField>
      <BranchActions
        {...form}
        branching={step.key}
        branch={found.key}
        what="this arm"
        without={
          step.arms.length > 2 ? () => removeArm(definition, step.key, found.key) : undefined
        }
      />
    </>
  )
}
