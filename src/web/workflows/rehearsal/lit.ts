import { rehearse, type Rehearsed } from '../../../core/rehearsal/rehearse.ts'
import { stopsOf, waysOf, type StopOutcome } from '../../../core/rehearsal/story.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import type { ShopFacts } from '../../../core/events/facts.ts'
import { localTime, type Instant } from '../../../core/shared/time.ts'
import { MONTHS, WEEKDAYS } from '../../../core/words/quantities.ts'
import { NOT_SENT_WORDS } from '../../../core/words/measures.ts'
import { STOP_WORDS } from '../../../core/words/rehearsalWords.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import type { ShownNumbers } from '../numbers/shownNumbers.ts'

/** What a workflow does with somebody made up, and how the timetable shows it. */
export interface Lit {
  told: Rehearsed
  numbers: ShownNumbers
}

/** Takes somebody through a workflow. Throws what the compiler throws of a definition that cannot be run. */
export function litBy(definition: Definition, subject: Subject, shop: ShopFacts): Lit {
  const told = rehearse(definition, subject, shop)
  const stops = stopsOf(definition, told)
  const isLeft = ({ kind }: StopOutcome) => kind === 'left'
  const numbers: ShownNumbers = {
    total: { entered: Math.min(1, told.runs), inProgress: 0, sent: 0, turnedAway: 0, skipped: 0, left: 0, needAttention: 0, nextDueAt: null },
    steps: [...stops].map(([step, stop]) => ({ step, waiting: 0, sent: stop.kind === 'sent' ? 1 : 0, skipped: 0, left: isLeft(stop) ? 1 : 0, failed: 0, done: 0 })),
    branches: waysOf(told).map((way) => ({ ...way, taken: 1 })),
    earned: { steps: [], branches: [] },
    exclusions: [],
    onOlderVersions: 0,
    told: {
      ofStop: (step) => {
        const stop = stops.get(step)
        return stop ? { words: stopWords(stop, told.zone), isGood: stop.kind === 'sent' || stop.kind === 'done' } : null
      },
      whenAt: (step) => {
        const stop = stops.get(step)
        return stop && shortMoment(stop.at, told.zone)
      },
    },
  }
  return { told, numbers }
} // prettier-ignore

/** "sent 10:00", "skipped: no consent", "left: excluded". */
function stopWords({ kind, at, entry }: StopOutcome, zone: string): string {
  if (entry.kind === 'skipped') return `skipped: ${NOT_SENT_WORDS[entry.reason.code]}`
  const { hour, minute } = localTime(at, zone)
  return `${STOP_WORDS[kind]} ${two(hour)}:${two(minute)}`
}

const two = (value: number): string => String(value).padStart(2, '0')

/** "Thu 23 Apr, 10:00" where somebody lives. */
export function shortMoment(at: Instant, zone: string): string {
  const { day, month, year, hour, minute } = localTime(at, zone)
  const weekday = WEEKDAYS[(new Date(Date.UTC(year, month - 1, day)).getUTCDay() + 6) % 7] ?? ''
  return `${weekday} ${day} ${(MONTHS[month - 1] ?? '').slice(0, 3)}, ${two(hour)}:${two(minute)}`
}
