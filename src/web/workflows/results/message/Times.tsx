import type { ReactNode } from 'react'
import type { MessageDetail as Detail } from '../../../../contract/results.ts'
import { rateInterval, rateOf } from '../../../../core/statistics/rates.ts'
import { WEEKDAYS } from '../../../../core/words/quantities.ts'
import { percentWords, rangeWords } from '../../../ui/figures/percent.ts'

/** How a message was taken by the local hour and weekday at which it left. */
export function LocalTimes({ hours, weekdays }: Pick<Detail, 'hours' | 'weekdays'>): ReactNode {
  return (
    <>
      <Times title="By the hour it left, where they live" rows={hours} nameOf={hourName} />
      <Times title="By weekday" rows={weekdays} nameOf={(at) => WEEKDAYS[at - 1] ?? ''} />
    </>
  )
}

const hourName = (at: number): string =>
  `${String(at).padStart(2, '0')}–${String(at + 1).padStart(2, '0')}`

/** Fewer than so many say nothing of an hour. */
const LEAST = 20

interface TimesProps {
  title: string
  rows: Detail['hours']
  nameOf: (at: number) => string
}

const toldOf = (rows: Detail['hours']) => rows.filter(({ delivered }) => delivered >= LEAST)

/** A message that leaves at one hour only has nothing to choose between. */
const hasChoice = (rows: Detail['hours']): boolean => toldOf(rows).length > 1

function Times({ title, rows, nameOf }: TimesProps): ReactNode {
  if (!hasChoice(rows)) return null
  const told = toldOf(rows)
  return (
    <section aria-label={title} className="text-xs">
      <h3 className="mb-1 font-medium">{title}</h3>
      <p className="mb-1">{bestWords(told, nameOf)}</p>
      <table className="w-full">
        <thead className="sr-only">
          <tr>
            <th>When</th>
            <th>Opened, of those delivered</th>
          </tr>
        </thead>
        <tbody>
          {told.map(({ at, delivered, opened }) => (
            <tr key={at}>
              <th scope="row" className="w-14 text-left font-normal">
                {nameOf(at)}
              </th>
              <td className="font-mono">
                <span
                  className="mr-2 inline-block h-2.5 rounded-sm bg-info"
                  style={{ width: `${(45 * opened) / delivered}%` }}
                />
                {percentWords(opened / delivered)} of {delivered}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

/** Says which time stands out, if one does: its interval lies above the rate of all others together. */
function bestWords(rows: Detail['hours'], nameOf: (at: number) => string): string {
  const best = rows.toSorted((a, b) => b.opened / b.delivered - a.opened / a.delivered)[0]
  if (!best) return ''
  const others = rows.filter((row) => row !== best)
  const rest = rateOf({
    did: others.reduce((sum, one) => sum + one.opened, 0),
    of: others.reduce((sum, one) => sum + one.delivered, 0),
  })
  // As many are compared as there are rows, so that chance has that many tries.
  const interval = rateInterval({ did: best.opened, of: best.delivered }, 1 - 0.05 / rows.length)
  if (rest === null || !interval || interval.low <= rest)
    return 'None stands out: the differences are as chance makes them.'
  return `${nameOf(best.at)} stands out: ${percentWords(best.opened / best.delivered)} opened (${rangeWords(interval)}), ${percentWords(rest)} at other times.`
}
