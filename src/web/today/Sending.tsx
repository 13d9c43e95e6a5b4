import type { ReactNode } from 'react'
import { sendingResponse, type SendingResponse } from '../../contract/overview.ts'
import { dayWords } from '../../core/words/quantities.ts'
import { Part } from './Part.tsx'
import { SendingChart } from './SendingChart.tsx'

/** What left, and what will. */
export function Sending(): ReactNode {
  return (
    <Part title="Messages a day" path="/api/overview/sending" schema={sendingResponse}>
      {(data) => <Shown {...data} />}
    </Part>
  )
}

function Shown({ days, ahead }: SendingResponse): ReactNode {
  const checked = days.filter(({ forecast }) => forecast !== null)
  const within = checked.filter(({ marketing, transactional, forecast }) => {
    const came = marketing + transactional
    return forecast !== null && came >= Math.floor(forecast.low) && came <= Math.ceil(forecast.high)
  })
  const expected = Math.round(ahead.reduce((sum, one) => sum + one.expected, 0))
  if (
    days.every(({ marketing, transactional }) => marketing + transactional === 0) &&
    expected === 0
  ) {
    return (
      <p className="text-secondary">Nothing has left in the last four weeks, and nothing is due.</p>
    )
  }
  return (
    <>
      <p className="mb-2 text-xs text-secondary">
        About {expected.toLocaleString('en-IE')} will leave from today on in {ahead.length} days: of
        those who are on their way, as it went for others before, and of those who will come. The
        same forecast, made two weeks ago, held {within.length} of the {checked.length} days since
        within its bounds; nine in ten are meant.
      </p>
      <SendingChart days={days} ahead={ahead} />
      <details className="mt-2">
        <summary className="cursor-pointer text-xs">In numbers</summary>
        <div className="max-h-72 overflow-auto">
          <table className="table table-sm">
            <thead>
              <tr>
                <th>Day</th>
                <th className="text-right">Marketing</th>
                <th className="text-right">Transactional</th>
                <th className="text-right">Forecast</th>
              </tr>
            </thead>
            <tbody>
              {days.map(({ date, marketing, transactional, forecast }) => (
                <tr key={date}>
                  <th scope="row" className="font-normal">
                    {dayWords(date)}
                  </th>
                  <td className="text-right font-mono text-xs">{marketing}</td>
                  <td className="text-right font-mono text-xs">{transactional}</td>
                  <td className="text-right font-mono text-xs">
                    {forecast ? boundsWords(forecast) : '–'}
                  </td>
                </tr>
              ))}
              {ahead.map((one) => (
                <tr key={one.date}>
                  <th scope="row" className="font-normal">
                    {dayWords(one.date)}
                  </th>
                  <td colSpan={2} className="text-right text-xs text-secondary">
                    to come
                  </td>
                  <td className="text-right font-mono text-xs">{boundsWords(one)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </details>
    </>
  )
}

const boundsWords = ({
  expected,
  low,
  high,
}: {
  expected: number
  low: number
  high: number
}): string => `${Math.round(expected)} (${Math.floor(low)}–${Math.ceil(high)})`
