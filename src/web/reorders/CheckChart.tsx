import type { ReactNode } from 'react'
import { Bar, BarChart, CartesianGrid, Cell, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts' // prettier-ignore
import type { ReorderRow } from '../../contract/reorders.ts'
import { SOON_AFTER_DAYS } from '../../core/reorder/check.ts'
import { AXIS, STILL, TIP } from '../ui/figures/chart.ts'

const WIDTH = 5
const FROM = -60
const UNTIL = 60

type Check = NonNullable<ReorderRow['check']>

/** How far from the expected day the next order came; hatched: before they would have been asked. */
export function CheckChart({ check, lead }: { check: Check; lead: number }): ReactNode {
  const bins = binsOf(check, lead)
  return (
    <figure aria-label="When the next order came, in days from the expected day">
      <ResponsiveContainer width="100%" height={190}>
        <BarChart data={bins} margin={{ top: 6, right: 8, bottom: 14, left: -18 }} barCategoryGap={1}>
          <defs>
            <pattern id="tooLate" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <rect width="6" height="6" fill="var(--color-secondary)" fillOpacity="0.55" />
              <rect width="2" height="6" fill="var(--color-base-100)" fillOpacity="0.7" />
            </pattern>
          </defs>
          <CartesianGrid vertical={false} stroke="var(--color-base-300)" />
          <XAxis
            dataKey="from"
            interval={3}
            tickFormatter={(from: number) => (from > 0 ? `+${from}` : String(from).replace('-', '−'))}
            label={{ value: 'days from the expected day', position: 'insideBottom', offset: -10, fill: 'var(--color-secondary)', fontSize: 11 }}
            {...AXIS}
          />
          <YAxis allowDecimals={false} {...AXIS} />
          <Tooltip {...TIP} labelFormatter={(from) => binWords(Number(from))} />
          <ReferenceLine x={0} stroke="var(--color-base-content)" />
          <Bar dataKey="count" name="orders" {...STILL}>
            {bins.map(({ from, fill }) => (
              <Cell key={from} fill={fill} />
            ))}
          </Bar>
        </BarChart>
      </ResponsiveContainer>
      <figcaption className="flex flex-wrap gap-x-5 text-xs text-secondary">
        <span>▨ had ordered before they would have been asked</span>
        <span>
          <span className="text-primary">■</span> within a week after it
        </span>
        <span>
          <span className="text-info">■</span> later
        </span>
      </figcaption>
      <details className="mt-2 text-xs">
        <summary className="min-h-6 cursor-pointer">As a table</summary>
        <table className="table table-xs mt-1 w-auto">
          <thead>
            <tr>
              <th>Days from the expected day</th>
              <th className="text-right">Orders</th>
            </tr>
          </thead>
          <tbody>
            {bins.filter(({ count }) => count > 0).map(({ from, count }) => (
              <tr key={from}>
                <td>{binWords(from)}</td>
                <td className="text-right">{count}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </figure>
  )
} // prettier-ignore

const binWords = (from: number): string => {
  if (from <= FROM) return `${-FROM - WIDTH + 1} or more days before`
  if (from >= UNTIL) return `${UNTIL} or more days after`
  const to = from + WIDTH - 1
  if (from === 0) return `on the day to ${to} days after`
  return from < 0 ? `${-from} to ${-to} days before` : `${from} to ${to} days after`
}

/** Five days each; what lies farther out is in the outermost. The colour says how most of a bin came out. */
function binsOf({ came }: Check, lead: number) {
  const count = new Map<number, number>()
  for (const one of came) {
    const from = Math.floor(one.days / WIDTH) * WIDTH
    const bin = Math.min(UNTIL, Math.max(FROM, from))
    count.set(bin, (count.get(bin) ?? 0) + one.count)
  }
  return Array.from({ length: (UNTIL - FROM) / WIDTH + 1 }, (_, index) => {
    const from = FROM + index * WIDTH
    const middle = from + WIDTH / 2 + lead
    const fill = middle < 0 ? 'url(#tooLate)' : middle < SOON_AFTER_DAYS ? 'var(--color-primary)' : 'var(--color-info)' // prettier-ignore
    return { from, count: count.get(from) ?? 0, fill }
  })
}
