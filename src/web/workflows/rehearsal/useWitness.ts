import { useCallback, useState } from 'react'
import { findWitness, type Search } from '../../../core/rehearsal/witness.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import { useSlices } from './useSlices.ts'

/** For what somebody is looked for, or was in vain; both by its JSON. */
interface Looking {
  for: string | null
  inVain: ReadonlySet<string>
}

/** Looks for somebody who takes a path, a little at a time; whoever looks for another stops looking for this one. */
export function useWitness(onFound: (subject: Subject) => void): {
  looking: Looking
  look: (search: Search) => void
} {
  const [looking, setLooking] = useState<Looking>({ for: null, inVain: new Set() })
  const goThrough = useSlices()
  const look = useCallback(
    (search: Search) => {
      const key = JSON.stringify(search.target)
      setLooking(({ inVain }) => ({ for: key, inVain }))
      goThrough(findWitness(search), (found) => {
        setLooking(({ inVain }) => ({
          for: null,
          inVain: found ? inVain : new Set([...inVain, key]),
        }))
        if (found) onFound(found)
      })
    },
    [goThrough, onFound],
  )
  return { looking, look }
}
