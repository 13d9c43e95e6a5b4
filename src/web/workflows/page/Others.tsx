import { Users } from 'lucide-react'
import type { ReactNode } from 'react'
import type { VisitResponse } from '../../../contract/workflows.ts'

/** Who else has the workflow open. */
export function Others({ others }: Pick<VisitResponse, 'others'>): ReactNode {
  const names = others.map(({ name, isSelf }) => (isSelf ? 'you, in another window' : name))
  return (
    <span
      className="chip border-warning text-warning"
      role="status"
      title="What they save is shown to you. If you both change it at once, the second to save is asked."
    >
      <Users size={12} aria-hidden="true" /> also open: {names.join(', ')}
    </span>
  )
}
