import { useEffect, useRef, type ReactNode } from 'react'
import { useLatest } from '../hooks/useLatest.ts'

interface Props {
  html: string
  dark: boolean
  images: boolean
  className: string
  /** Called each time it has been drawn. */
  onDrawn?: (frame: HTMLIFrameElement) => void
}

/**
 * The HTML of a mail in a frame of its own: no scripts, no way to this page. What is written anew is
 * put in place without a flash, and stays scrolled where it was.
 */
export function MailFrame({ html, dark, images, className, onDrawn }: Props): ReactNode {
  const frame = useRef<HTMLIFrameElement>(null)
  const latest = useLatest(onDrawn)
  const shown = asSeen(html, dark, images)
  useEffect(() => {
    const document = frame.current?.contentDocument
    if (!frame.current || !document) return
    const { scrollTop } = document.documentElement
    document.open()
    document.write(shown)
    document.close()
    document.documentElement.scrollTop = scrollTop
    latest.current?.(frame.current)
  }, [shown, latest])
  return (
    <iframe
      ref={frame}
      title="The message"
      // The same origin, so that it can be written into; without scripts it can do nothing with it.
      sandbox="allow-same-origin"
      className={`min-h-0 flex-1 border-0 ${dark ? 'bg-[#121716]' : 'bg-white'} ${className}`}
    />
  )
}

/** As a mail program of that kind would show it. */
function asSeen(html: string, dark: boolean, images: boolean): string {
  const themed = html.replaceAll('(prefers-color-scheme: dark)', dark ? 'all' : 'not all')
  // A link would lead away from what is looked at.
  const still = themed.replace('<head>', '<head><base target="_blank">')
  return images ? still : still.replaceAll(/(<img\b[^>]*?)\ssrc="[^"]*"/g, '$1 src=""')
}
