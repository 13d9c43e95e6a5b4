import { useEffect, type RefObject } from 'react'
import { useLatest } from './useLatest.ts'

/** Tells when something outside of all elements is pressed, while `isOpen`. */
export function useOutside(
  elements: readonly RefObject<HTMLElement | null>[],
  onOutside: () => void,
  isOpen = true,
): void {
  const latest = useLatest({ elements, onOutside })
  useEffect(() => {
    if (!isOpen) return undefined
    const pressed = ({ target }: PointerEvent) => {
      const { elements: inside, onOutside: tell } = latest.current
      const isInside = inside.some(
        ({ current }) => target instanceof Node && current?.contains(target),
      )
      if (!isInside) tell()
    }
    document.addEventListener('pointerdown', pressed)
    return () => document.removeEventListener('pointerdown', pressed)
  }, [isOpen, latest])
}
