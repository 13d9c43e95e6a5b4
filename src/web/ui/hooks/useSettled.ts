import { useEffect, useState } from 'react'
import { afterNextFrame } from './afterNextFrame.ts'

/** Long enough that nothing is worked out between two letters, short enough not to be waited for. */
const SETTLES_MS = 250

/**
 * A value once it has stood still for a moment: for what is worked out from what somebody types.
 * It starts as `first`, which the value takes the place of as soon as something is on the screen.
 */
export function useSettled<Value, First>(
  value: Value,
  first: First,
  afterMs = SETTLES_MS,
): Value | First {
  const [settled, setSettled] = useState<{ value: Value | First; isFirst: boolean }>({
    value: first,
    isFirst: true,
  })
  const { isFirst } = settled
  useEffect(() => {
    const settle = () => setSettled({ value, isFirst: false })
    if (isFirst) return afterNextFrame(settle)
    const timer = setTimeout(settle, afterMs)
    return () => clearTimeout(timer)
  }, [value, isFirst, afterMs])
  return settled.value
}
