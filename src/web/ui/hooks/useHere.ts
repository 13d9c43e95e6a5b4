import { useEffect, useRef, type RefObject } from 'react'

/** False once what asks has gone from the screen: what comes in later has no place there any more. */
export function useHere(): RefObject<boolean> {
  const here = useRef(true)
  useEffect(() => {
    here.current = true
    return () => {
      here.current = false
    }
  }, [])
  return here
}
