import type { MessageResults, WayResults } from '../../../contract/results.ts'
import type { Count } from '../../../core/statistics/rates.ts'
import { MEASURES } from '../../../core/words/measures.ts'
import type { Measured } from '../numbers/shownNumbers.ts'

/** What the timetable can show at every stop and path. */
export const SHOWN_MEASURES = ['revenue', 'opened', 'clicked', 'ordered', 'unsubscribed', 'complained'] as const // prettier-ignore
export type ShownMeasure = (typeof SHOWN_MEASURES)[number]

interface Cohort {
  messages: readonly MessageResults[]
  ways: readonly WayResults[]
}

/** What is shown of each stop and path, with the time before beside it; undefined for revenue, which is what it shows by itself. */
export function measuredBy(
  measure: ShownMeasure,
  now: Cohort,
  before: Cohort | null,
): Measured | undefined {
  if (measure === 'revenue') return undefined
  const both = (count: (cohort: Cohort) => Count | undefined) => {
    const counts = count(now)
    return counts && { now: counts, before: before ? count(before) : undefined }
  }
  return {
    means: MEANS[measure],
    ofStop: (step) => both((cohort) => ofStop(measure, cohort, step)),
    ofWay: (step, branch) => both((cohort) => ofWay(measure, cohort, step, branch)),
  }
}

type Rated = Exclude<ShownMeasure, 'revenue'>

const MEANS: Readonly<Record<Rated, string>> = {
  opened: 'opened, of those delivered; on a path: any message after it',
  clicked: 'clicked, of those delivered; on a path: in any message after it',
  ordered:
    'ordered within seven days after it as the last message, of those delivered; on a path: ordered at all from there on, of everybody who took it',
  unsubscribed: 'unsubscribed, of those delivered; on a path: by any message after it',
  complained: 'complained, of those delivered; on a path: of any message after it',
}

/** As a choice. */
export const shownMeasureLabel = (measure: ShownMeasure): string =>
  measure === 'revenue' ? 'revenue' : MEASURES[measure].label.toLowerCase()

function ofStop(measure: Rated, { messages }: Cohort, key: string): Count | undefined {
  const own = messages.find(({ step }) => step === key)
  return own && { did: own[measure], of: own.delivered }
}

function ofWay(
  measure: Rated,
  { ways }: Cohort,
  key: string,
  branch: string | null,
): Count | undefined {
  const own = ways.find((one) => one.step === key && one.branch === branch)
  if (!own) return undefined
  return measure === 'ordered'
    ? { did: own.bought, of: own.people }
    : { did: own[measure], of: own.delivered }
}
