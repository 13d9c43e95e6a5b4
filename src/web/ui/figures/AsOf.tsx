import type { ReactNode } from 'react'
import { Time } from '../data/shop.tsx'

/** How often figures that are not of now are asked for again. */
export const AS_OF_POLL_MS = 30_000

/** Of which moment figures are that are not of now: those of a large shop are counted now and then. */
export function AsOf({ at }: { at: number | null }): ReactNode {
  if (at === null) return null
  return (
    <span className="text-xs font-normal text-secondary">
      as of <Time at={at} />
    </span>
  )
}
