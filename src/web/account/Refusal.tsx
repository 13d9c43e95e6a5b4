import type { ReactNode } from 'react'
import { ProblemList } from '../ui/states.tsx'

/** Why the form above was not taken. */
export function Refusal({ error }: { error: Error | null }): ReactNode {
  if (!error) return null
  return (
    <div role="alert" className="mt-3 text-accent">
      {error.message}
      <ProblemList error={error} />
    </div>
  )
}
