import type { ReactNode } from 'react'

interface Props {
  html: string
  title: string
  /** In CSS pixels. */
  width: number
  height: number
}

/** As wide as a message is drawn, with a little of what is around it. */
const DRAWN = 640

/** A message as a small picture of itself: nothing in it can be pressed or reached. */
export function MailPicture({ html, title, width, height }: Props): ReactNode {
  const scale = width / DRAWN
  return (
    <div className="pointer-events-none overflow-hidden bg-white" style={{ width, height }}>
      <iframe
        title={title}
        tabIndex={-1}
        sandbox=""
        srcDoc={html.replaceAll('(prefers-color-scheme: dark)', 'not all')}
        className="border-0"
        style={{ width: DRAWN, height: height / scale, transform: `scale(${scale})`, transformOrigin: '0 0' }}
      />
    </div>
  )
} // prettier-ignore
