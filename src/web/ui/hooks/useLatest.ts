import { useLayoutEffect, useRef, type RefObject } from 'react'

/** What a value is at the moment, for handlers that are to stay the same while it changes. */
export function useLatest<Value>(value: Value): RefObject<Value> {
  const latest = useRef(value)
  useLayoutEffect(() => {
    latest.current = value
  }, [value])
  return latest
}
