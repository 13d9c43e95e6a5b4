import { CircleCheck, TriangleAlert } from 'lucide-react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { StatusResponse } from '../../contract/status.ts'
import { plural } from '../../core/words/quantities.ts'
import { Time } from '../ui/data/shop.tsx'
import { useStatus } from '../ui/data/useStatus.ts'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Loading, Problem } from '../ui/states.tsx'

/** How things stand: what is not as it was first, then what waits, who works, and what the installation has grown to. */
export function StatusPage(): ReactNode {
  const { data, error, refetch } = useStatus()
  return (
    <div className="mx-auto max-w-3xl p-4">
      <PageHeading title="How things stand" className="mb-3 text-xl">
        <Link className="hover:underline" to="/settings">
          Settings
        </Link>{' '}
        / How things stand
      </PageHeading>
      {error && <Problem error={error} retry={() => void refetch()} />}
      {!data && !error && <Loading what="how things stand" />}
      {data && (
        <>
          <Alerts alerts={data.alerts} />
          <Messages messages={data.messages} />
          <Work work={data.work} />
          {data.installation && <Installation installation={data.installation} />}
        </>
      )}
    </div>
  )
}

function Alerts({ alerts }: Pick<StatusResponse, 'alerts'>): ReactNode {
  return (
    <section className="panel mb-4 p-4" aria-label="Not as it was">
      {alerts.length === 0 ? (
        <p className="flex items-center gap-2">
          <CircleCheck size={18} className="text-success" aria-hidden="true" /> Everything is as it
          was.
        </p>
      ) : (
        <ul className="flex flex-col gap-2">
          {alerts.map(({ code, about, says, to, since }) => (
            <li key={`${code} ${about}`} className="flex items-start gap-2">
              <TriangleAlert size={16} className="mt-0.5 shrink-0 text-accent" aria-hidden="true" />
              <span className="min-w-0 flex-1">
                <Link className="link" to={to}>
                  {says}
                </Link>{' '}
                <span className="text-secondary">
                  Since <Time at={since} />
                </span>
              </span>
            </li>
          ))}
        </ul>
      )}
      <p className="mt-3 text-secondary">
        Owners get a mail of each, once, for as long as it lasts: when messages cannot leave, too
        many complain or come back, a connection falls silent, or a workflow stops sending.
      </p>
    </section>
  )
}

function Messages({ messages }: Pick<StatusResponse, 'messages'>): ReactNode {
  const { waiting, held, failed, unsure, lastSentAt } = messages
  return (
    <Figures title="Messages">
      <Figure name="Last one left">
        {lastSentAt === null ? 'none yet' : <Time at={lastSentAt} />}
      </Figure>
      <Figure name="About to leave">{waiting}</Figure>
      <Figure name="Held back until later">{held}</Figure>
      <Figure name="Could not be sent" isBad={failed > 0}>
        {failed}
      </Figure>
      <Figure name="May have left" isBad={unsure > 0}>
        {unsure}
      </Figure>
    </Figures>
  )
}

/** What is worth a look, in seconds. */
const LATE_S = 300

function Work({ work: { workers, jobs, queueAgeS, dueLagS } }: Pick<StatusResponse, 'work'>) {
  return (
    <Figures title="Work">
      <Figure name="Workers" isBad={workers === 0}>
        {workers === 0 ? 'none: nothing is sent' : workers}
      </Figure>
      <Figure name="Jobs that could be done">{jobs}</Figure>
      <Figure name="The oldest waits for" isBad={queueAgeS > LATE_S}>
        {secondsWords(queueAgeS)}
      </Figure>
      <Figure name="What is due is late by" isBad={dueLagS > LATE_S}>
        {secondsWords(dueLagS)}
      </Figure>
    </Figures>
  )
}

interface InstallationProps {
  installation: NonNullable<StatusResponse['installation']>
}

function Installation({ installation: { backupAt, tables } }: InstallationProps): ReactNode {
  return (
    <section className="panel p-4" aria-label="Installation">
      <h2 className="mb-2 text-base">Installation</h2>
      <p className={backupAt === null ? 'text-accent' : ''}>
        {backupAt === null ? (
          'It was never backed up by “yomble backup”.'
        ) : (
          <>
            Last backup: <Time at={backupAt} />
          </>
        )}
      </p>
      <table className="table table-sm mt-2">
        <thead>
          <tr>
            <th scope="col">Table</th>
            <th scope="col" className="text-right">
              Rows, about
            </th>
            <th scope="col" className="text-right">
              Size
            </th>
          </tr>
        </thead>
        <tbody>
          {tables.map(({ table, rows, bytes }) => (
            <tr key={table}>
              <td>{table.replaceAll('_', ' ')}</td>
              <td className="text-right font-mono text-xs">{rows.toLocaleString('en')}</td>
              <td className="text-right font-mono text-xs">{megabytes(bytes)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

function Figures({ title, children }: { title: string; children: ReactNode }): ReactNode {
  return (
    <section className="panel mb-4 p-4" aria-label={title}>
      <h2 className="mb-2 text-base">{title}</h2>
      <dl className="grid grid-cols-2 gap-3 sm:grid-cols-5">{children}</dl>
    </section>
  )
}

function Figure({
  name,
  isBad = false,
  children,
}: {
  name: string
  isBad?: boolean
  children: ReactNode
}): ReactNode {
  return (
    <div>
      <dt className="text-xs text-secondary">{name}</dt>
      <dd className={isBad ? 'font-medium text-accent' : 'font-medium'}>{children}</dd>
    </div>
  )
}

const secondsWords = (seconds: number): string =>
  seconds < 1 ? 'not at all' : seconds < 120 ? plural(Math.round(seconds), 'second') : plural(Math.round(seconds / 60), 'minute') // prettier-ignore

const megabytes = (bytes: number): string =>
  bytes < 1_000_000 ? `${Math.ceil(bytes / 1000)} kB` : `${Math.round(bytes / 1_000_000).toLocaleString('en')} MB` // prettier-ignore
