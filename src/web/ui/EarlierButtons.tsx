import type { ReactNode } from 'react'

interface Props {
  earlier: (() => void) | null
  toNewest: (() => void) | null
  isFetching: boolean
  /** `btn-sm` or `btn-xs`. */
  size: string
  className: string
}

/** The ways on below a list that goes back page by page; nothing where all of it is shown. */
export function EarlierButtons({
  earlier,
  toNewest,
  isFetching,
  size,
  className,
}: Props): ReactNode {
  if (!earlier && !toNewest) return null
  return (
    <div className={`flex gap-2 ${className}`}>
      {earlier && (
        <button
          type="button"
          className={`btn ${size}`}
          aria-disabled={isFetching}
          onClick={() => !isFetching && earlier()}
        >
          Earlier
        </button>
      )}
      {toNewest && (
        <button type="button" className={`btn btn-ghost ${size}`} onClick={toNewest}>
          Back to the newest
        </button>
      )}
    </div>
  )
}
