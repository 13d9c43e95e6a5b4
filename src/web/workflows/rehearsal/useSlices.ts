import { useCallback, useEffect, useRef } from 'react'

/** So long at a time, so that what is typed meanwhile is not kept waiting. */
const SLICE_MS = 12

/** Goes on with work for a little. */
function slice<Found>(work: Generator<void, Found>): IteratorResult<void, Found> {
  const until = performance.now() + SLICE_MS
  let step = work.next()
  while (!step.done && performance.now() < until) step = work.next()
  return step
}

/** Goes through work a little at a time; other work takes its place. */
export function useSlices(): <Found>(
  work: Generator<void, Found>,
  onFound: (found: Found) => void,
) => void {
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  useEffect(() => () => clearTimeout(timer.current), [])
  return useCallback((work, onFound) => {
    clearTimeout(timer.current)
    const goOn = () => {
      const step = slice(work)
      if (step.done) onFound(step.value)
      else timer.current = setTimeout(goOn)
    }
    timer.current = setTimeout(goOn)
  }, [])
}

/** Goes through work a little at a time, to its end. */
export async function inSlices<Found>(work: Generator<void, Found>): Promise<Found> {
  for (;;) {
    const step = slice(work)
    if (step.done) return step.value
    await new Promise((resolve) => setTimeout(resolve))
  }
}
