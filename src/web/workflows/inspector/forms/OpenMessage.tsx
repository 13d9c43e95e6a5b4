import { PenLine } from 'lucide-react'
import type { ReactNode } from 'react'
import { Link, useParams } from 'react-router'

/** Leads to where a message is written, and looked at as somebody gets it. */
export function OpenMessage({ stepKey }: { stepKey: string }): ReactNode {
  const { id = '' } = useParams()
  return (
    <Link className="btn btn-sm mb-3 w-full" to={`/workflows/${id}/messages/${stepKey}`}>
      <PenLine size={14} aria-hidden="true" /> Write and preview
    </Link>
  )
}
