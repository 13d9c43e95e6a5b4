import { useCallback, useEffect, useRef, useState } from 'react'
import { findWitness, type Search } from '../../../core/rehearsal/witness.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'

/** So long at a time, so that what is typed meanwhile is not kept waiting. */
const SLICE_MS = 12

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
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  useEffect(() => () => clearTimeout(timer.current), [])
  const look = useCallback(
    (search: Search) => {
      clearTimeout(timer.current)
      const key = JSON.stringify(search.target)
      const steps = findWitness(search)
      const goOn = () => {
        const until = performance.now() + SLICE_MS
        let step = steps.next()
        while (!step.done && performance.now() < until) step = steps.next()
        if (!step.done) {
          timer.current = setTimeout(goOn)
          return
        }
        const { value } = step
        setLooking(({ inVain }) => ({
          for: null,
          inVain: value ? inVain : new Set([...inVain, key]),
        }))
        if (value) onFound(value)
      }
      setLooking(({ inVain }) => ({ for: key, inVain }))
      timer.current = setTimeout(goOn)
    },
    [onFound],
  )
  return { looking, look }
}
