import { CircleAlert, CloudOff } from 'lucide-react'
import type { ReactNode } from 'react'
import { capitalized } from '../../core/words/quantities.ts'
import { ApiError, ServerAwayError } from './data/api.ts'

/** Shown while something is on its way; says what. */
export function Loading({ what }: { what: string }): ReactNode {
  return (
    <div role="status" className="flex items-center gap-3 p-6 text-secondary">
      <span className="loading loading-dots loading-sm" aria-hidden="true" />
      Loading {what}…
    </div>
  )
}

/** What went wrong, what is kept, what to do. */
export function Problem({ error, retry }: { error: Error; retry?: () => void }): ReactNode {
  const away = error instanceof ServerAwayError
  const Icon = away ? CloudOff : CircleAlert
  return (
    <div role="alert" className="flex items-start gap-3 p-6">
      <Icon size={18} className="mt-0.5 shrink-0 text-accent" aria-hidden="true" />
      <div>
        <p>{error.message}</p>
        <ProblemList error={error} />
        {retry && (
          <button type="button" className="btn btn-sm mt-3" onClick={retry}>
            Try again
          </button>
        )}
      </div>
    </div>
  )
}

/** The single problems an error names. */
export function ProblemList({ error }: { error: Error }): ReactNode {
  if (!(error instanceof ApiError) || error.body.problems.length === 0) return null
  return (
    <ul className="mt-2 list-disc pl-5">
      {error.body.problems.map(({ path, message }) => (
        <li key={`${path} ${message}`}>{sentence(path, message)}</li>
      ))}
    </ul>
  )
}

/** A problem in words of its own, or with the name of what it is about before it. */
function sentence(path: string, message: string): string {
  if (!/^\p{Ll}/u.test(message)) return message
  const name = path.split('.').findLast((part) => Number.isNaN(Number(part))) ?? ''
  return `${capitalized(name.replaceAll(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`))} ${message}`
}

/**
 * What was found for an earlier question while the answer to the present one is on its way: said and
 * shown. It can be used all the same, and nothing in it moves, or a press in the very moment of the
 * change would be lost.
 */
export function Outdated({
  isOutdated,
  doing = 'Searching',
  className = '',
  children,
}: {
  isOutdated: boolean
  doing?: 'Searching' | 'Counting'
  className?: string
  children: ReactNode
}): ReactNode {
  return (
    <div aria-busy={isOutdated} className={`relative ${className}`}>
      {isOutdated && (
        <p
          role="status"
          className="pointer-events-none absolute top-1 right-3 z-10 rounded-field bg-base-100 px-2 py-1 text-xs text-secondary"
        >
          {doing}…
        </p>
      )}
      <div className={`${className} ${isOutdated ? 'opacity-50' : ''}`}>{children}</div>
    </div>
  )
}

/** Nothing there yet: says why, and offers the way on. */
export function Empty({ title, children }: { title: string; children?: ReactNode }): ReactNode {
  return (
    <div className="p-10 text-center text-secondary">
      <p className="font-display text-lg text-base-content">{title}</p>
      {children && <div className="mt-2">{children}</div>}
    </div>
  )
}
