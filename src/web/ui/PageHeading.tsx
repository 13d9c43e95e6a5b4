import { useEffect, useRef, type ReactNode, type RefObject } from 'react'

interface Props {
  /** What the page is about, in words: they name the window too. */
  title: string
  /** The heading as it is seen, where that is more than its words. */
  children?: ReactNode
  className?: string
}

/** The heading of a page, where whoever has just come begins. */
export function PageHeading({ title, children = title, className = 'text-xl' }: Props): ReactNode {
  const heading = useBeginHere<HTMLHeadingElement>()
  return (
    <>
      <title>{`${title} · Yomble`}</title>
      <h1 ref={heading} tabIndex={-1} className={className}>
        {children}
      </h1>
    </>
  )
}

/**
 * Has the keyboard begin at something once it is there, if what led to it has gone with the page
 * before: else it would begin at the bar above again.
 */
export function useBeginHere<Of extends HTMLElement>(): RefObject<Of | null> {
  const place = useRef<Of>(null)
  useEffect(() => {
    if (document.activeElement === document.body) place.current?.focus({ preventScroll: true })
  }, [])
  return place
}
