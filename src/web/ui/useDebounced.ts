import { useEffect, useState } from 'react'

/** A value once it has not changed for a while, so that not every keystroke asks the server. */
export function useDebounced<Value>(value: Value, ms: number): Value {
  const [settled, setSettled] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms)
    return () => clearTimeout(timer)
  }, [value, ms])
  return settled
}
