import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { useFirstSteps } from './FirstStepsPage.tsx'

/** Until a shop's first message has left: the way to what is still to be done. */
export function StillToDo(): ReactNode {
  const { data } = useFirstSteps()
  if (!data || data.hasSent) return null
  return (
    <p className="panel mb-4 flex items-center gap-3 p-4" role="note">
      <span className="flex-1">Nothing has left yet. The first steps lead to the first message.</span>
      <Link className="btn btn-primary btn-sm" to="/first-steps">
        First steps
      </Link>
    </p>
  )
} // prettier-ignore
