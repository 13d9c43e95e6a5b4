import type { ReactNode } from 'react'
import { rateInterval, rateOf, type Count } from '../../../core/statistics/rates.ts'
import { percentWords, rangeWords } from '../../ui/figures/percent.ts'
import type { Measured, MeasuredCounts, ShownNumbers } from '../numbers/shownNumbers.ts'
import { EarnedNote } from './EarnedNote.tsx'

interface StopProps {
  numbers: ShownNumbers | undefined
  step: string
}

/** What came of a stop: what is measured just now, or what it has earned. */
export function StopFigure({ numbers, step }: StopProps): ReactNode {
  const measured = numbers?.measured
  if (measured) return <Share measured={measured} counts={measured.ofStop(step)} />
  return <EarnedNote earned={numbers?.earned.steps.find((one) => one.step === step)} />
}

interface WayProps {
  numbers: ShownNumbers | undefined
  step: string | null
  branch: string | null
  /** What parts it from what stands before it. */
  lead?: string
  /** There is no room for the time before. */
  isNarrow?: boolean
}

/** The same of those who took a path. */
export function WayFigure({ numbers, step, branch, lead = '', isNarrow }: WayProps): ReactNode {
  const measured = numbers?.measured
  if (measured) {
    const counts = measured.ofWay(step ?? '', branch)
    return <Share measured={measured} counts={counts} lead={lead} isNarrow={isNarrow} />
  }
  const earned = numbers?.earned.branches.find((one) => one.step === step && one.branch === branch)
  return <EarnedNote earned={earned} lead={lead} />
}

interface ShareProps {
  measured: Measured
  counts: MeasuredCounts | undefined
  lead?: string
  isNarrow?: boolean | undefined
}

/** Fewer than so many say nothing of a rate. */
const LEAST = 20

function Share({ measured, counts, lead = '', isNarrow = false }: ShareProps): ReactNode {
  if (!counts || counts.now.of === 0) return null
  const { now, before } = counts
  const interval = rateInterval(now)
  const range = interval ? `, most likely ${rangeWords(interval)}` : ''
  return (
    <span title={`${now.did} of ${now.of}${range}: ${measured.means}`}>
      {lead}
      <span className="whitespace-nowrap">{shareWords(now)}</span>
      {before && !isNarrow && (
        <span className="whitespace-nowrap opacity-75"> was {shareWords(before)}</span>
      )}
    </span>
  )
}

function shareWords(count: Count): string {
  const rate = rateOf(count)
  return rate === null || count.of < LEAST ? `${count.did} of ${count.of}` : percentWords(rate)
}
