import { useCallback, useEffect, useRef } from 'react'
import { flushSync } from 'react-dom'
import { afterNextFrame } from './afterNextFrame.ts'
import { useLatest } from './useLatest.ts'

/** What tells of words that are on the screen, but that nothing else knows of yet. */
const untold = new Set<() => void>()

/** All that somebody can do besides typing a letter. */
const ACTS = [
  'keydown',
  'pointerdown',
  'click',
  'focusout',
  'drop',
  'popstate',
  'visibilitychange',
] as const

/** Tells of what has been typed now, for something that is to work with it. */
export function settleTyped(): void {
  if (untold.size === 0) return
  flushSync(() => {
    for (const tell of untold) tell()
  })
}

for (const act of ACTS) window.addEventListener(act, settleTyped, { capture: true })

/**
 * A function that tells of what is typed once it has been drawn: a letter does not wait for what
 * follows from it. Whatever is done next is told of it first, so that nothing works with old words.
 */
export function useDeferred<Value>(tell: (value: Value) => void): (value: Value) => void {
  const latest = useLatest(tell)
  const mine = useRef<{ tell: () => void; to: (value: Value) => void } | null>(null)
  useEffect(() => () => mine.current?.tell(), [])
  return useCallback(
    (value: Value) => {
      // The same field may be for something else by now; else these words stand for those before.
      if (mine.current && mine.current.to !== latest.current) settleTyped()
      else if (mine.current) untold.delete(mine.current.tell)
      const to = latest.current
      const tellOnce = () => {
        if (untold.delete(tellOnce)) to(value)
      }
      mine.current = { tell: tellOnce, to }
      untold.add(tellOnce)
      afterNextFrame(() => {
        if (untold.has(tellOnce)) settleTyped()
      })
    },
    [latest],
  )
}
