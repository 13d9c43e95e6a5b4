import type { ReactNode } from 'react'
import type { WorkflowState } from '../../../contract/workflows.ts'

const LOOKS: Readonly<Record<WorkflowState, { label: string; className: string }>> = {
  draft: { label: 'Draft', className: 'border-warning text-warning' },
  live: { label: 'Live', className: 'border-primary bg-primary text-primary-content' },
  paused: { label: 'Paused', className: 'border-secondary border-dashed' },
  retired: { label: 'Retired', className: 'text-secondary' },
}

/** The state of a workflow, with the version that is live. */
export function StateChip({
  state,
  version,
}: {
  state: WorkflowState
  version: number | null
}): ReactNode {
  const { label, className } = LOOKS[state]
  return (
    <span className={`chip ${className}`}>
      {label}
      {state !== 'draft' && version !== null && <span className="font-mono">v{version}</span>}
    </span>
  )
}
