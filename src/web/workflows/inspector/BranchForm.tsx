import { Trash2 } from 'lucide-react'
import type { ReactNode } from 'react'
import { allSteps, type SplitBranch } from '../../../core/workflow/definition.ts'
import { removeBranch, updateBranch } from '../../../core/workflow/edit.ts'
import { TextField } from '../../ui/fields.tsx'
import { ConditionEditor } from './ConditionEditor.tsx'
import type { FormProps } from './formProps.ts'

/** One path of a split: its name and who travels on it. */
export function BranchForm({
  split,
  branch,
  ...form
}: FormProps & { split: string; branch: string | null }): ReactNode {
  const { definition, onChange, onSelect } = form
  const step = allSteps(definition.steps).find(({ key }) => key === split)
  const found = step?.kind === 'split' ? step.branches.find(({ key }) => key === branch) : undefined
  const back = (
    <button
      type="button"
      className="btn btn-ghost btn-xs mb-2 -ml-2"
      onClick={() => onSelect({ kind: 'step', key: split })}
    >
      ← the whole split
    </button>
  )
  if (!found || step?.kind !== 'split') {
    return (
      <>
        {back}
        <h2 className="mb-1 text-base">Everyone else</h2>
        <p className="text-secondary">Whoever no other path of this split takes goes this way.</p>
      </>
    )
  }
  const change = (to: Partial<SplitBranch>) =>
    onChange(
      updateBranch(definition, split, found.key, (one) => ({ ...one, ...to })),
      `branch ${found.key}`,
    )
  return (
    <>
      {back}
      <h2 className="mb-3 text-base">Path</h2>
      <TextField label="Name" value={found.name} onChange={(name) => change({ name })} />
      <h3 className="field-label">Who travels on it</h3>
      <ConditionEditor key={found.key} value={found.when} onChange={(when) => change({ when })} />
      {step.branches.length > 1 && (
        <button
          type="button"
          className="btn btn-ghost btn-sm mt-4"
          onClick={() => {
            onChange(removeBranch(definition, split, found.key))
            onSelect({ kind: 'step', key: split })
          }}
        >
          <Trash2 size={14} aria-hidden="true" /> Remove this path
        </button>
      )}
    </>
  )
}
