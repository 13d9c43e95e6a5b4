import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { z } from 'zod'
import { connectionAddress, connectionSummary } from '../../contract/connections.ts'
import { getJson, sendJson } from '../ui/data/api.ts'
import { Time } from '../ui/data/shop.tsx'
import { useChange } from '../ui/data/useChange.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Empty, Loading, Problem } from '../ui/states.tsx'
import { NewAddress } from './NewAddress.tsx'

/** Ways in for systems that speak a language of their own. */
export function ConnectionsPage(): ReactNode {
  const [name, setName] = useState('')
  const { data, error, refetch } = useQuery({
    queryKey: ['connections'],
    queryFn: () => getJson('/api/connections', z.array(connectionSummary)),
  })
  const add = useChange(
    () => sendJson('POST', '/api/connections', connectionAddress, { name }),
    'connections',
    () => setName(''),
  )
  return (
    <div className="mx-auto max-w-4xl p-4">
      <p className="mb-1 text-xs text-secondary">
        <Link to="/settings" className="hover:underline">
          Settings
        </Link>
      </p>
      <PageHeading title="Connections" />
      <p className="mt-1">
        <Link className="link" to="/settings/events">
          Events that came
        </Link>
        , by whatever way, those that were refused, and how to send some.
      </p>
      <p className="mt-1 mb-3 text-secondary">
        A system that cannot send our events sends what it has to an address of its own. What arrives is kept, and an expression
        that you write makes events of it.
      </p>
      <form
        className="mb-3 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          add.mutate()
        }}
      >
        <input
          className="input input-sm w-72"
          aria-label="Name of the connection"
          placeholder="What sends: till, market stall, forms …"
          maxLength={80}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
        <button type="submit" className="btn btn-primary btn-sm" disabled={name.trim() === '' || add.isPending}>
          Add a connection
        </button>
      </form>
      {add.data && <NewAddress address={add.data.address} to={`/settings/connections/${add.data.id}`} />}
      <div className="panel">
        {error && <Problem error={error} retry={() => void refetch()} />}
        {!data && !error && <Loading what="the connections" />}
        {data?.length === 0 && <Empty title="No connection yet." />}
        <ul>
          {data?.map(({ id, name: own, isOn, createdAt, signature }) => (
            <li key={id} className="flex items-center gap-3 border-t border-base-300/60 px-4 py-2 first:border-t-0">
              <Link className="font-medium hover:underline" to={`/settings/connections/${id}`}>
                {own}
              </Link>
              <span className="text-xs text-secondary">
                {isOn ? '' : 'switched off, '}
                {signature === 'none' ? 'not signed' : 'signed'}, since <Time at={createdAt} />
              </span>
            </li>
          ))}
        </ul>
      </div>
    </div>
  )
} // prettier-ignore
