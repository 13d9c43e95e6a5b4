import type { ReactNode } from 'react'
import { useRouteError } from 'react-router'
import { PageHeading } from '../ui/PageHeading.tsx'

/** A page that broke while it was drawn: the rest of Yomble stays, and says what can be done. */
export function BrokenPage(): ReactNode {
  const error = useRouteError()
  return (
    <div role="alert" className="mx-auto max-w-xl p-10">
      <PageHeading title="This page cannot be shown." />
      <p className="mt-2">
        The mistake is Yomble’s. Drafts are kept as you wrote them; load the page anew, or go on
        elsewhere.
      </p>
      <button
        type="button"
        className="btn btn-primary btn-sm mt-4"
        onClick={() => location.reload()}
      >
        Load it anew
      </button>
      <p className="mt-6 font-mono text-xs break-words text-secondary">
        {error instanceof Error ? error.message : String(error)}
      </p>
    </div>
  )
}
