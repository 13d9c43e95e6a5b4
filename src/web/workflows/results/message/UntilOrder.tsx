import type { ReactNode } from 'react'
import {
  Area,
  CartesianGrid,
  ComposedChart,
  Line,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts'
import type { MessageDetail } from '../../../../contract/results.ts'
import { plural } from '../../../../core/words/quantities.ts'
import { AXIS, STILL, TIP } from '../../../ui/figures/chart.ts'
import { percentWords, rangeWords } from '../../../ui/figures/percent.ts'

/** How soon those who got a message ordered, for whatever reason; with its bounds, and in words. */
export function UntilOrder({ untilOrder }: Pick<MessageDetail, 'untilOrder'>): ReactNode {
  const title = 'How soon they ordered'
  return (
    <section aria-label={title} className="text-xs">
      <h3 className="mb-1 font-medium">{title}</h3>
      {untilOrder === null ? (
        <p className="text-secondary">Nobody who got it has ordered since.</p>
      ) : (
        <>
          <p className="mb-1">
            {untilOrder.reached.length === 0
              ? 'Fewer than one in twenty have ordered.'
              : untilOrder.reached.map((one) => reachedWords(one)).join(' ')}{' '}
            <span className="text-secondary">
              Whoever got it lately counts for as long as they have had it.
            </span>
          </p>
          <Curve curve={untilOrder.curve} />
          <details>
            <summary className="cursor-pointer text-secondary">As a table</summary>
            <table className="w-full font-mono">
              <thead>
                <tr>
                  <th className="text-left font-normal">within</th>
                  <th className="text-right font-normal">had ordered</th>
                  <th className="text-right font-normal">most likely</th>
                </tr>
              </thead>
              <tbody>
                {byDay(untilOrder.curve).map((point) => (
                  <tr key={point.hours}>
                    <td>{spanWords(point.hours)}</td>
                    <td className="text-right">{percentWords(point.share)}</td>
                    <td className="text-right">{rangeWords(point)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </details>
        </>
      )}
    </section>
  )
}

type Until = NonNullable<MessageDetail['untilOrder']>

function reachedWords({ share, hours, low, high }: Until['reached'][number]): string {
  const between =
    low === null
      ? ''
      : high === null
        ? ` (at least ${spanWords(low)})`
        : ` (${betweenWords(low, high)})`
  return `${NAMES[String(share)] ?? percentWords(share)} had ordered after ${spanWords(hours)}${between}.`
}

const NAMES: Readonly<Record<string, string>> = {
  '0.05': 'One in twenty',
  '0.1': 'One in ten',
  '0.25': 'One in four',
  '0.5': 'Half',
}

/** "7 hours" up to two days, then "5 days". */
const spanWords = (hours: number): string =>
  hours <= 48 ? plural(hours, 'hour') : plural(Math.round(hours / 24), 'day')

/** "5 to 7 days"; of different units both. */
function betweenWords(low: number, high: number): string {
  const [first, second] = [spanWords(low), spanWords(high)]
  const unit = first.split(' ')[1]
  return second.split(' ')[1] === unit && first !== second
    ? `${first.split(' ')[0]} to ${second}`
    : `${first} to ${second}`
}

/** Of each day the last point. */
function byDay(curve: Until['curve']): Until['curve'] {
  return curve.filter(
    ({ hours }, index) => Math.ceil(hours / 24) !== Math.ceil((curve[index + 1]?.hours ?? -1) / 24),
  )
}

function Curve({ curve }: Pick<Until, 'curve'>): ReactNode {
  const rows = [{ hours: 0, share: 0, band: [0, 0] }, ...curve.map(({ hours, share, low, high }) => ({ hours, share, band: [low, high] }))] // prettier-ignore
  return (
    <figure aria-label="Share who had ordered, by the time since they got it">
      <ResponsiveContainer width="100%" height={170}>
        <ComposedChart data={rows} margin={{ top: 6, right: 8, bottom: 0, left: -14 }}>
          <CartesianGrid vertical={false} stroke="var(--color-base-300)" />
          <XAxis
            dataKey="hours"
            type="number"
            domain={[0, 'dataMax']}
            tickFormatter={(hours: number) => `${Math.round(hours / 24)} d`}
            {...AXIS}
          />
          <YAxis tickFormatter={(share: number) => `${Math.round(share * 100)} %`} {...AXIS} />
          <Tooltip
            {...TIP}
            labelFormatter={(hours) => `within ${spanWords(Number(hours))}`}
            formatter={(value) =>
              Array.isArray(value)
                ? value.map((one) => percentWords(Number(one))).join(' to ')
                : percentWords(Number(value))
            }
          />
          <Area
            type="stepAfter"
            dataKey="band"
            name="most likely"
            stroke="none"
            fill="var(--color-primary)"
            fillOpacity={0.16}
            {...STILL}
          />
          <Line
            type="stepAfter"
            dataKey="share"
            name="had ordered"
            stroke="var(--color-primary)"
            strokeWidth={2}
            dot={false}
            {...STILL}
          />
        </ComposedChart>
      </ResponsiveContainer>
    </figure>
  )
}
