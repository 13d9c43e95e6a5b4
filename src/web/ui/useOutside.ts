import { useEffect, type RefObject } from 'react'
import { useLatest } from './useLatest.ts'

/** Tells when something outside of an element is pressed, while `isOpen`. */
export function useOutside(
  element: RefObject<HTMLElement | null>,
  onOutside: () => void,
  isOpen = true,
): void {
  const latest = useLatest(onOutside)
  useEffect(() => {
    if (!isOpen) return undefined
    const pressed = ({ target }: PointerEvent) => {
      if (target instanceof Node && !element.current?.contains(target)) latest.current()
    }
    document.addEventListener('pointerdown', pressed)
    return () => document.removeEventListener('pointerdown', pressed)
  }, [element, isOpen, latest])
}
