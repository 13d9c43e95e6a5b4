import type { ExpectedReorder } from '../events/reorder.ts'
import { assertNever } from '../shared/assertNever.ts'
import type { Asked } from '../reorder/check.ts'
import type { ReorderInterval } from '../reorder/interval.ts'

const days = (count: number): string => (count === 1 ? '1 day' : `${count} days`)
const between = (low: number, high: number): string =>
  low === high ? `after ${days(low)}` : `between ${low} and ${days(high)}`
const times = (count: number): string => (count === 1 ? 'once' : `${count} times`)

/** What one person's expected reorder was reckoned from, as part of a sentence. */
export function reckonedWords({ by, days: after, soon, late, ownGaps, ownDays }: ExpectedReorder): string {
  const when = `${days(after)} after they bought it`
  // Where somebody made up sets the day there is nothing unsure about it.
  const four = soon === late ? '' : `, four in five ${between(soon, late)}`
  switch (by) {
    case 'person':
      return `${when}: they have bought it again ${times(ownGaps)} so far, after ${days(ownDays ?? after)} as a rule${four}`
    case 'product':
      return `${when}: half of all repeats have come by then${four}`
    case 'category':
      return `${when}: half of all repeats in its category have come by then${four}`
    default:
      return assertNever(by, 'basis')
  }
} // prettier-ignore

const percent = (share: number): string => `${Math.round(share * 100)} %`

/** After how many days something is bought again, and how sure that is. */
export function intervalWords(interval: ReorderInterval): string[] {
  const { days: half, low, high, soon, late, again, purchases, repeats, variation } = interval
  return [
    `Half of all repeats come within ${days(half)}${low === high ? '' : ` (most likely ${between(low, high)})`}; four in five ${between(soon, late)}.`,
    `${percent(again.share)} of purchases are followed by another within a year (${percent(again.low)} to ${percent(again.high)}). That rests on ${purchases} purchases and ${repeats} repeats.`,
    rhythmWords(variation),
  ]
}

/** Whether people have rhythms of their own: how much of the difference between gaps lies between people. */
function rhythmWords(variation: ReorderInterval['variation']): string {
  if (variation === null) {
    return 'Too few have bought it three times to say whether people have a rhythm of their own; everybody is expected after the same time.'
  }
  const { within, between: among } = variation
  if (among === 0) {
    return 'People do not differ in how soon they buy it again; everybody is expected after the same time.'
  }
  const weight = among / (among + within)
  return `Who has bought it twice is expected at their own rhythm: one gap of theirs counts for ${percent(weight)}, everybody’s for the rest; with more gaps, their own counts more.`
}

/** What would have come of asking so many days before the expected day, as a sentence. */
export function askedWords({ tooLate, within, later, notYet }: Asked, lead: number): string {
  const all = tooLate + within + later + notYet
  const when = lead === 0 ? 'on the expected day' : `${days(lead)} before the expected day`
  if (all === 0) return 'No expected day fell in the last half year.'
  return `Of ${all} expected days in the last half year, asked ${when}: ${tooLate} had bought it again already and would not have been asked, ${within} did within a week, ${later} later, and ${notYet} have not yet.`
}
