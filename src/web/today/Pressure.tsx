import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { pressureResponse, type PressureResponse } from '../../contract/overview.ts'
import { peopleWords, plural } from '../../core/words/quantities.ts'
import { useWorkflowNames } from '../ui/data/useWorkflowNames.ts'
import { Part } from './Part.tsx'

/** How much people get: how many so many a week, who most, and which workflows meet in one person. */
export function Pressure(): ReactNode {
  return (
    <Part title="How much people get" path="/api/overview/pressure" schema={pressureResponse}>
      {({ perWeek, most, meeting }) =>
        most.length === 0 ? (
          <p className="text-secondary">Nobody got a message in the last four weeks.</p>
        ) : (
          <div className="grid gap-5 md:grid-cols-2">
            <div>
              <WeekBars perWeek={perWeek} />
              {meeting.length > 0 && <Meeting meeting={meeting} />}
            </div>
            <Most most={most} />
          </div>
        )
      }
    </Part>
  )
}

/** The last bar stands for so many and more. */
const MANY = 6

function WeekBars({ perWeek }: Pick<PressureResponse, 'perWeek'>): ReactNode {
  const all = perWeek.reduce((sum, one) => sum + one.people, 0)
  const most = Math.max(...perWeek.map(({ people }) => people), 1)
  return (
    <>
      <h3 className="mb-1 text-xs text-secondary">
        In the last week, {all.toLocaleString('en-IE')} people got something
      </h3>
      <table className="w-full text-xs">
        <thead className="sr-only">
          <tr>
            <th>Messages</th>
            <th>People</th>
          </tr>
        </thead>
        <tbody>
          {perWeek.map(({ messages, people }) => (
            <tr key={messages}>
              <th scope="row" className="w-20 py-0.5 text-left font-normal">
                {plural(messages, 'message')}
                {messages >= MANY && ' or more'}
              </th>
              <td className="font-mono" aria-label={peopleWords(people)}>
                <span
                  className="mr-2 inline-block h-3 rounded-sm bg-info align-middle"
                  style={{ width: `${(80 * people) / most}%` }}
                />
                {people}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

function Meeting({ meeting }: Pick<PressureResponse, 'meeting'>): ReactNode {
  const names = useWorkflowNames()
  const link = (id: string) => (
    <Link to={`/workflows/${id}`} className="hover:underline">
      {names.get(id) ?? 'a workflow that is gone'}
    </Link>
  )
  return (
    <>
      <h3 className="mt-4 mb-1 text-xs text-secondary">
        Workflows whose marketing met in one week
      </h3>
      <ul className="text-xs">
        {meeting.map(({ first, second, people }) => (
          <li
            key={`${first} ${second}`}
            className="flex min-h-7 items-center justify-between gap-2"
          >
            <span>
              {link(first)} and {link(second)}
            </span>
            <span className="font-mono whitespace-nowrap">in {people}</span>
          </li>
        ))}
      </ul>
    </>
  )
}

function Most({ most }: Pick<PressureResponse, 'most'>): ReactNode {
  return (
    <div>
      <h3 className="mb-1 text-xs text-secondary">Who got most, last four weeks</h3>
      <table className="w-full text-xs">
        <thead className="sr-only">
          <tr>
            <th>Who</th>
            <th>Messages</th>
            <th>Of them marketing</th>
          </tr>
        </thead>
        <tbody>
          {most.map(({ customerId, name, email, messages, marketing }) => (
            <tr key={customerId} className="h-7">
              <th scope="row" className="max-w-44 truncate text-left font-normal">
                <Link
                  to={`/ledger?search=${encodeURIComponent(email ?? customerId)}`}
                  className="hover:underline"
                >
                  {name ?? email ?? customerId}
                </Link>
              </th>
              <td className="text-right font-mono">{messages}</td>
              <td className="pl-2 text-right text-secondary">{marketing} marketing</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
