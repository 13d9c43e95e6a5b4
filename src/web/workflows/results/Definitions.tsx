import type { ReactNode } from 'react'
import { MEASURES } from '../../../core/words/measures.ts'

/** What each column counts. */
export function Definitions(): ReactNode {
  return (
    <details className="panel mt-3 p-3">
      <summary className="cursor-pointer font-medium">What is counted</summary>
      <dl className="mt-2 grid gap-x-4 gap-y-1 sm:grid-cols-[10rem_1fr]">
        {Object.values(MEASURES).map(({ label, means }) => (
          <div key={label} className="contents">
            <dt className="font-medium">{label}</dt>
            <dd className="text-secondary">{means}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-2 text-xs text-secondary">
        Counted are those who entered in the time chosen, and what they did within their days from
        then on: above and below a line are the same people. Small figures beside a rate are how
        many did it, and within which bounds the rate most likely lies (Wilson, 95 %).
      </p>
    </details>
  )
}
