import type { ReactNode } from 'react'
import {
  Area,
  Bar,
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts'
import type { SendingResponse } from '../../contract/overview.ts'
import { dayWords, shortDay } from '../../core/words/quantities.ts'
import { AXIS, STILL, TIP } from '../ui/figures/chart.ts'

/** Bars for what left, by purpose; a band with a line for what is forecast, also for days that have come since. */
export function SendingChart(data: SendingResponse): ReactNode {
  return (
    <figure aria-label="Messages a day, with a forecast">
      <ResponsiveContainer width="100%" height={230}>
        <ComposedChart
          data={rowsOf(data)}
          margin={{ top: 6, right: 4, bottom: 0, left: -18 }}
          barCategoryGap="18%"
        >
          <defs>
            <pattern
              id="hatched"
              width="6"
              height="6"
              patternUnits="userSpaceOnUse"
              patternTransform="rotate(45)"
            >
              <rect width="6" height="6" fill="var(--color-info)" />
              <rect width="2" height="6" fill="var(--color-base-100)" fillOpacity="0.55" />
            </pattern>
          </defs>
          <CartesianGrid vertical={false} stroke="var(--color-base-300)" />
          <XAxis dataKey="date" tickFormatter={shortDay} interval={6} {...AXIS} />
          <YAxis allowDecimals={false} {...AXIS} />
          <Tooltip
            {...TIP}
            labelFormatter={(date) => (typeof date === 'string' ? dayWords(date) : '')}
            formatter={(value) => roundWords(value)}
          />
          <Area
            dataKey="band"
            name="nine days in ten"
            stroke="none"
            fill="var(--color-primary)"
            fillOpacity={0.16}
            {...STILL}
          />
          <Bar dataKey="transactional" stackId="left" fill="var(--color-secondary)" {...STILL} />
          <Bar dataKey="marketing" stackId="left" fill="url(#hatched)" {...STILL} />
          <Line
            dataKey="expected"
            name="forecast"
            stroke="var(--color-primary)"
            strokeWidth={2}
            strokeDasharray="5 3"
            dot={false}
            {...STILL}
          />
          {data.ahead[0] && <ReferenceLine x={data.ahead[0].date} stroke="var(--color-accent)" />}
        </ComposedChart>
      </ResponsiveContainer>
      <Legend />
    </figure>
  )
}

const rowsOf = ({ days, ahead }: SendingResponse) => [
  ...days.map(({ date, marketing, transactional, forecast }) => ({
    date,
    marketing,
    transactional,
    expected: forecast?.expected ?? null,
    band: forecast ? [forecast.low, forecast.high] : null,
  })),
  ...ahead.map(({ date, expected, low, high }) => ({ date, expected, band: [low, high] })),
]

function Legend(): ReactNode {
  return (
    <figcaption className="flex flex-wrap gap-x-5 text-xs text-secondary">
      <span>
        <span aria-hidden="true">■</span> transactional
      </span>
      <span>
        <span aria-hidden="true" className="text-info">
          ▨
        </span>{' '}
        marketing
      </span>
      <span>
        <span aria-hidden="true" className="text-primary">
          ┅
        </span>{' '}
        forecast, with its bounds
      </span>
      <span>
        <span aria-hidden="true" className="text-accent">
          │
        </span>{' '}
        today
      </span>
    </figcaption>
  )
}

const roundWords = (value: unknown): string =>
  Array.isArray(value)
    ? value.map((one) => Math.round(Number(one))).join(' to ')
    : String(Math.round(Number(value)))
