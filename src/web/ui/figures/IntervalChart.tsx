import type { ReactNode } from 'react'
import {
  CartesianGrid,
  ErrorBar,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  XAxis,
  YAxis,
} from 'recharts'
import type { Comparison } from '../../../core/experiments/judge.ts'

interface Props {
  comparisons: readonly Comparison[]
  nameOf: (arm: string) => string
  /** The least difference that was to be seen. */
  least: number
  write: (value: number) => string
  label: string
}

const ROW_PX = 46

/** Each arm’s difference from the first, with the interval that holds at every look and that of the planned end. */
export function IntervalChart({ comparisons, nameOf, least, write, label }: Props): ReactNode {
  const rows = comparisons.map((one, index) => ({ ...one, row: index, name: nameOf(one.arm) }))
  const ends = rows.flatMap(({ always, fixed, difference }) => [
    always?.low ?? difference,
    always?.high ?? difference,
    fixed?.low ?? difference,
    fixed?.high ?? difference,
  ])
  const { reach, ticks } = evenScale(Math.max(least * 1.25, ...ends.map(Math.abs)) * 1.05)
  return (
    <figure aria-label={label}>
      <ResponsiveContainer width="100%" height={rows.length * ROW_PX + 44}>
        <ScatterChart margin={{ top: 8, right: 24, bottom: 4, left: 8 }}>
          <CartesianGrid horizontal={false} stroke="var(--color-base-300)" />
          <XAxis
            type="number"
            dataKey="x"
            domain={[-reach, reach]}
            ticks={ticks}
            tickFormatter={write}
            tick={{ fill: 'var(--color-secondary)', fontSize: 11 }}
            stroke="var(--color-base-300)"
          />
          <YAxis
            type="number"
            dataKey="y"
            domain={[-0.5, rows.length - 0.5]}
            ticks={rows.map(({ row }) => row)}
            tickFormatter={(row: number) => rows[row]?.name ?? ''}
            reversed
            width={150}
            tick={{ fill: 'var(--color-base-content)', fontSize: 12 }}
            stroke="var(--color-base-300)"
          />
          <ReferenceLine x={0} stroke="var(--color-base-content)" />
          {[-least, least].map((x) => (
            <ReferenceLine key={x} x={x} stroke="var(--color-secondary)" strokeDasharray="3 3" />
          ))}
          <Scatter
            data={pointsOf(rows, 'always', -0.1)}
            fill="var(--color-primary)"
            isAnimationActive={false}
          >
            <ErrorBar
              isAnimationActive={false}
              dataKey="error"
              direction="x"
              width={6}
              strokeWidth={2}
              stroke="var(--color-primary)"
            />
          </Scatter>
          <Scatter
            data={pointsOf(rows, 'fixed', 0.18)}
            fill="var(--color-info)"
            shape="diamond"
            isAnimationActive={false}
          >
            <ErrorBar
              isAnimationActive={false}
              dataKey="error"
              direction="x"
              width={4}
              strokeWidth={2}
              stroke="var(--color-info)"
            />
          </Scatter>
        </ScatterChart>
      </ResponsiveContainer>
      <Legend isPlannedShown={rows.some(({ fixed }) => fixed)} />
    </figure>
  )
}

interface Row extends Comparison {
  row: number
}

/** A point with its reach to both sides for each row that has the interval, a little off the middle of the row. */
const pointsOf = (rows: readonly Row[], of: 'always' | 'fixed', shift: number) =>
  rows.flatMap(({ difference, row, [of]: interval }) =>
    interval
      ? [
          {
            x: difference,
            y: row + shift,
            error: [difference - interval.low, interval.high - difference],
          },
        ]
      : [],
  )

function Legend({ isPlannedShown }: { isPlannedShown: boolean }): ReactNode {
  return (
    <figcaption className="mt-1 flex flex-wrap gap-x-5 text-xs text-secondary">
      <span>
        <span aria-hidden="true" className="text-primary">
          ●
        </span>{' '}
        holds however often it is looked at
      </span>
      {isPlannedShown && (
        <span>
          <span aria-hidden="true" className="text-info">
            ◆
          </span>{' '}
          for the one look that was planned
        </span>
      )}
      <span>┆ the least difference worth knowing</span>
    </figcaption>
  )
}

/** Round steps to both sides of nought, at most four to a side. */
function evenScale(most: number): { reach: number; ticks: number[] } {
  const power = 10 ** Math.floor(Math.log10(most / 4))
  const step = ([1, 2, 2.5, 5, 10].find((one) => one * power * 4 >= most) ?? 10) * power
  const count = Math.ceil(most / step)
  const ticks = Array.from({ length: 2 * count + 1 }, (_, index) => (index - count) * step)
  return { reach: count * step, ticks }
}
