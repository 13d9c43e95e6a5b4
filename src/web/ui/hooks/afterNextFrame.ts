import { useEffect, useState } from 'react'

/** Calls once what is there by now has been drawn. Returns what takes that back. */
export function afterNextFrame(act: () => void): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined
  const frame = requestAnimationFrame(() => {
    timer = setTimeout(act)
  })
  return () => {
    cancelAnimationFrame(frame)
    clearTimeout(timer)
  }
}

/** False until what surrounds it has been drawn for the first time: for what may come a frame later. */
export function useIsDrawn(): boolean {
  const [isDrawn, setIsDrawn] = useState(false)
  useEffect(() => afterNextFrame(() => setIsDrawn(true)), [])
  return isDrawn
}
