import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { auditResponse, type AuditEntry } from '../../../contract/audit.ts'
import { mayOwn } from '../../../contract/roles.ts'
import { getJson, queryOf } from '../../ui/data/api.ts'
import { Time, useSession } from '../../ui/data/shop.tsx'
import { SearchField } from '../../ui/fields/SearchField.tsx'
import { PageHeading } from '../../ui/PageHeading.tsx'
import { Empty, Loading, Outdated, Problem } from '../../ui/states.tsx'
import { changesIn } from './changesIn.ts'

/** Who changed what and when, with what stood before. */
export function AuditPage(): ReactNode {
  const isOwner = mayOwn(useSession().user.role)
  const [search, setSearch] = useState('')
  const query = useInfiniteQuery({
    queryKey: ['audit', search],
    queryFn: ({ pageParam: before, signal }) =>
      getJson(`/api/audit${queryOf({ search, before })}`, auditResponse, signal),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: ({ entries, more }) => (more ? entries.at(-1)?.id : undefined),
    placeholderData: keepPreviousData,
    enabled: isOwner,
  })
  const entries = query.data?.pages.flatMap((page) => page.entries)
  return (
    <div className="mx-auto max-w-4xl p-4">
      <p className="mb-1 text-xs text-secondary">
        <Link to="/settings" className="hover:underline">
          Settings
        </Link>
      </p>
      <PageHeading title="Changes" className="mb-1 text-xl" />
      <p className="mb-3 text-secondary">
        Who changed what and when, with what stood before. Nothing here is ever changed or removed.
        What was done to single people stands in the ledger.
      </p>
      {!isOwner && <Empty title="Owners look at changes." />}
      {isOwner && (
        <div className="mb-3 flex flex-wrap items-center gap-2">
          <SearchField
            label="Search changes"
            className="w-72"
            placeholder="Who, what, or a value"
            value={search}
            onSearch={setSearch}
          />
          <a className="btn btn-ghost btn-sm" href="/api/audit-file?format=csv" download>
            All as CSV
          </a>
        </div>
      )}
      {query.error && <Problem error={query.error} retry={() => void query.refetch()} />}
      {isOwner && query.isPending && <Loading what="the changes" />}
      {entries && (
        <Outdated isOutdated={query.isPlaceholderData}>
          {entries.length === 0 ? (
            <Empty title={search === '' ? 'Nothing was changed yet.' : 'No change like that.'} />
          ) : (
            <ul className="panel divide-y divide-base-300/60 px-4">
              {entries.map((entry) => (
                <Entry key={entry.id} entry={entry} />
              ))}
            </ul>
          )}
          {query.hasNextPage && (
            <button
              type="button"
              className="btn btn-sm mt-3"
              disabled={query.isFetchingNextPage}
              onClick={() => void query.fetchNextPage()}
            >
              Show earlier ones
            </button>
          )}
        </Outdated>
      )}
    </div>
  )
}

function Entry({ entry }: { entry: AuditEntry }): ReactNode {
  const { at, person, did, about, before, after } = entry
  const changes = changesIn(before, after)
  const named = Object.values(about).join(', ')
  return (
    <li className="py-2">
      <p className="flex flex-wrap items-baseline gap-x-4">
        <span className="min-w-60 flex-1">
          <span className="font-medium">{person}</span> {did.charAt(0).toLowerCase() + did.slice(1)}
          {named !== '' && <span className="ml-2 font-mono text-xs break-all text-secondary">{named}</span>}
        </span>
        <span className="text-secondary">
          <Time at={at} />
        </span>
      </p>
      {changes.length > 0 && (
        <dl className="mt-1 grid grid-cols-[minmax(8rem,auto)_1fr] gap-x-4 text-xs">
          {changes.map(({ name, from, to }) => (
            <div key={name} className="contents">
              <dt className="text-secondary">{name}</dt>
              <dd className="font-mono break-all">
                {from !== undefined && <del className="text-secondary">{from}</del>}
                {from !== undefined && to !== undefined && ' '}
                {to !== undefined && <ins className="no-underline">{to}</ins>}
              </dd>
            </div>
          ))}
        </dl>
      )}
    </li>
  )
} // prettier-ignore
