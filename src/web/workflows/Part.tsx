import type { ReactNode } from 'react'
import type { MessagePart } from '../../core/workflow/templates.ts'

interface Props {
  kind: Exclude<MessagePart['kind'], 'block'>
  children: ReactNode
}

/** The fields of a part of a message, to be found by what leads there (`useShownPart`). */
export function Part({ kind, children }: Props): ReactNode {
  return (
    <div className="contents" data-part={kind}>
      {children}
    </div>
  )
}
