import type { ReactNode } from 'react'
import { Bar, BarChart, CartesianGrid, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import type { MessageDetail } from '../../../../contract/results.ts'
import { dayWords, shortDay } from '../../../../core/words/quantities.ts'
import { AXIS, STILL, TIP } from '../../../ui/figures/chart.ts'

/** How many were delivered on each day, and how many of those were opened. */
export function Days({ days }: Pick<MessageDetail, 'days'>): ReactNode {
  const title = 'By the day it left'
  return (
    <section aria-label={title} className="text-xs">
      <h3 className="mb-1 font-medium">{title}</h3>
      {days.length < 2 ? (
        <p className="text-secondary">
          It has left on {days.length === 0 ? 'no day' : 'one day only'}.
        </p>
      ) : (
        <figure aria-label="Delivered and opened, by day">
          <ResponsiveContainer width="100%" height={150}>
            <BarChart
              data={days.map(({ date, delivered, opened }) => ({
                date,
                opened,
                rest: delivered - opened,
              }))}
              margin={{ top: 6, right: 4, bottom: 0, left: -22 }}
            >
              <CartesianGrid vertical={false} stroke="var(--color-base-300)" />
              <XAxis dataKey="date" tickFormatter={shortDay} minTickGap={30} {...AXIS} />
              <YAxis allowDecimals={false} {...AXIS} />
              <Tooltip
                {...TIP}
                labelFormatter={(date) => (typeof date === 'string' ? dayWords(date) : '')}
              />
              <Bar
                dataKey="opened"
                name="opened"
                stackId="left"
                fill="var(--color-primary)"
                {...STILL}
              />
              <Bar
                dataKey="rest"
                name="not opened"
                stackId="left"
                fill="var(--color-secondary)"
                fillOpacity={0.35}
                {...STILL}
              />
            </BarChart>
          </ResponsiveContainer>
          <figcaption className="text-secondary">
            <span aria-hidden="true" className="text-primary">
              ■
            </span>{' '}
            opened, dark;{' '}
            <span aria-hidden="true" className="opacity-40">
              ■
            </span>{' '}
            not opened, light
          </figcaption>
          <DaysTable days={days} />
        </figure>
      )}
    </section>
  )
}

function DaysTable({ days }: Pick<MessageDetail, 'days'>): ReactNode {
  return (
    <details>
      <summary className="cursor-pointer text-secondary">As a table</summary>
      <table className="w-full font-mono">
        <thead>
          <tr>
            <th className="text-left font-normal">day</th>
            <th className="text-right font-normal">delivered</th>
            <th className="text-right font-normal">opened</th>
            <th className="text-right font-normal">clicked</th>
          </tr>
        </thead>
        <tbody>
          {days.map(({ date, delivered, opened, clicked }) => (
            <tr key={date}>
              <td>{shortDay(date)}</td>
              <td className="text-right">{delivered}</td>
              <td className="text-right">{opened}</td>
              <td className="text-right">{clicked}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  )
}
