import { useMemo, useState, type ReactNode } from 'react'
import { Link, useSearchParams } from 'react-router'
import { arrivalsQuery, arrivalsResponse, type Arrival } from '../../contract/arrivals.ts'
import { EVENT_TYPES } from '../../core/events/eventTypes.ts'
import { EVENT_WORDS } from '../../core/words/eventWords.ts'
import { capitalized, plural } from '../../core/words/quantities.ts'
import { EarlierButtons } from '../ui/EarlierButtons.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Time } from '../ui/data/shop.tsx'
import { usePages } from '../ui/data/usePages.ts'
import { Empty, Loading, Outdated, Problem } from '../ui/states.tsx'
import { SendEvent } from './SendEvent.tsx'

const SHOWS = { taken: 'Taken in', refused: 'Refused' } as const

/** What arrived, from where, what it started; what was refused and why; and how to send some. */
export function EventsPage(): ReactNode {
  const [query, setQuery] = useSearchParams()
  const { show } = arrivalsQuery.pick({ show: true }).catch({ show: 'taken' }).parse({ show: query.get('show') ?? undefined }) // prettier-ignore
  const type = query.get('type') ?? ''
  const set = (changed: Record<string, string>) => {
    const next = Object.entries({ show, type, ...changed }).filter(([, value]) => value !== '')
    setQuery(new URLSearchParams(next), { replace: true })
  }
  const found = usePages({
    key: 'arrivals',
    path: '/api/events',
    filter: { show, type: show === 'taken' && type !== '' ? type : undefined },
    schema: arrivalsResponse,
    nextOf: ({ rows, more }) => (more ? rows.at(-1)?.key : undefined),
    refreshMs: 5000,
  })
  const rows = useMemo(() => found.pages?.flatMap((page) => page.rows), [found.pages])
  return (
    <div className="mx-auto max-w-5xl p-4">
      <p className="mb-1 text-xs text-secondary">
        <Link to="/settings/connections" className="hover:underline">
          Connections
        </Link>
      </p>
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <PageHeading title="Events that came" className="mr-2 text-xl" />
        <div role="group" aria-label="Show" className="flex gap-1">
          {arrivalsQuery.shape.show.unwrap().options.map((one) => (
            <button key={one} type="button" aria-pressed={show === one} className={`btn btn-sm ${show === one ? 'btn-neutral' : ''}`} onClick={() => set({ show: one })}>
              {SHOWS[one]}
            </button>
          ))}
        </div>
        {show === 'taken' && (
          <select className="select select-sm w-52" aria-label="Type" value={type} onChange={(event) => set({ type: event.target.value })}>
            <option value="">Every type</option>
            {EVENT_TYPES.map((one) => (
              <option key={one} value={one}>
                {capitalized(EVENT_WORDS[one].label)}
              </option>
            ))}
          </select>
        )}
      </div>
      <SendEvent />
      <div className="panel">
        {found.error && <Problem error={found.error} retry={found.refetch} />}
        {found.isPending && <Loading what="what came" />}
        {rows && (
          <Outdated isOutdated={found.isOutdated}>
            {rows.length === 0 && <Empty title={show === 'taken' ? 'Nothing of that came yet.' : 'Nothing was refused.'} />}
            <ul aria-label={SHOWS[show]}>
              {rows.map((row) => (
                <Row key={row.key} row={row} />
              ))}
            </ul>
          </Outdated>
        )}
      </div>
      <EarlierButtons earlier={found.earlier} toNewest={found.toNewest} isFetching={found.isFetchingEarlier} size="btn-sm" className="mt-3" />
    </div>
  )
} // prettier-ignore

function Row({ row }: { row: Arrival }): ReactNode {
  const { receivedAt, from, type, words, customer, started, problems, event } = row
  const [isOpen, setOpen] = useState(false)
  return (
    <li className="border-t border-base-300/60 px-4 py-2 first:border-t-0">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <button type="button" aria-expanded={isOpen} className="min-h-6 text-left hover:underline" onClick={() => setOpen(!isOpen)}>
          <Time at={receivedAt} />
        </button>
        <span className={`min-w-0 flex-1 ${problems.length > 0 ? 'text-accent' : ''}`}>{words}</span>
        {customer && (
          <Link className="hover:underline" to={`/people/${encodeURIComponent(customer.id)}`}>
            {customer.name}
          </Link>
        )}
        <span className="w-full text-xs text-secondary">
          <code className="font-mono">{type ?? 'no known type'}</code> from {from}
          {started > 0 && `, ${plural(started, 'run')} started`}
        </span>
      </div>
      {isOpen && (
        <textarea readOnly className="textarea mt-2 h-72 w-full font-mono text-xs" aria-label="As it came" value={JSON.stringify(event, null, 2)} />
      )}
    </li>
  )
} // prettier-ignore
