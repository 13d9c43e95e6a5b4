import { useQuery } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Link, useSearchParams } from 'react-router'
import { z } from 'zod'
import { mayBuild } from '../../contract/roles.ts'
import { peopleSort, segment, type PeopleCount } from '../../contract/people.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import { rateInterval } from '../../core/statistics/rates.ts'
import { getJson, queryOf } from '../ui/data/api.ts'
import { useSession } from '../ui/data/shop.tsx'
import { SearchField } from '../ui/fields/SearchField.tsx'
import { useSettled } from '../ui/hooks/useSettled.ts'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Empty, Loading, Outdated, Problem } from '../ui/states.tsx'
import { ColumnChoice, useColumns } from './ColumnChoice.tsx'
import { FilterPanel } from './FilterPanel.tsx'
import { LabelMany } from './LabelMany.tsx'
import { PeopleTable, SORTS } from './PeopleTable.tsx'
import { usePeople, usePeopleCount, type Which } from './usePeople.ts'

/** Everybody the shop knows: searched, asked about with conditions, kept as segments, put on lists. */
export function PeoplePage(): ReactNode {
  const mayEdit = mayBuild(useSession().user.role)
  const [query, setQuery] = useSearchParams()
  const search = query.get('search') ?? ''
  const sort = peopleSort.catch('lastOrder').parse(query.get('sort'))
  const chosen = query.get('segment')
  const segments = useQuery({
    queryKey: ['segments'],
    queryFn: () => getJson('/api/segments', z.array(segment)),
  })
  const own = segments.data?.find(({ id }) => id === chosen) ?? null
  const [edited, setEdited] = useState<{ of: string | null; condition: Condition | null } | null>(null) // prettier-ignore
  // What is edited belongs to the segment it was begun in; another one begins as it is kept.
  const condition = edited && edited.of === chosen ? edited.condition : (own?.condition ?? null)
  const asked = useSettled(condition, condition)
  const set = (changed: Record<string, string | null>) => {
    const next = new URLSearchParams(query)
    for (const [key, value] of Object.entries(changed)) {
      if (value === null || value === '') next.delete(key)
      else next.set(key, value)
    }
    setQuery(next, { replace: true })
  }
  const which: Which = { search, condition: asked }
  return (
    <div className="mx-auto flex h-full max-w-[1500px] flex-col p-4">
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <PageHeading title="People" className="mr-2 text-xl" />
        <SearchField
          label="Search people"
          className="w-72"
          placeholder="Name, address, phone or order number"
          value={search}
          onSearch={(text) => set({ search: text })}
        />
        {mayEdit && (
          <Link className="btn btn-sm ml-auto" to="/people/files">
            Files
          </Link>
        )}
      </div>
      <div className="flex min-h-0 flex-1 gap-4 max-md:flex-col">
        <FilterPanel
          segments={segments.data ?? []}
          chosen={own}
          condition={condition}
          onChoose={(id) => {
            setEdited(null)
            set({ segment: id })
          }}
          onEdit={(next) => setEdited({ of: chosen, condition: next })}
          onKept={(id) => {
            setEdited(null)
            set({ segment: id })
          }}
        />
        <Found which={which} sort={sort} onSort={(next) => set({ sort: next })} />
      </div>
    </div>
  )
}

interface FoundProps {
  which: Which
  sort: z.infer<typeof peopleSort>
  onSort: (sort: string) => void
}

function Found({ which, sort, onSort }: FoundProps): ReactNode {
  const found = usePeople(which, sort)
  const count = usePeopleCount(which)
  const mayExport = mayBuild(useSession().user.role)
  const [columns, setColumns] = useColumns()
  const isAll = which.condition === null && which.search === ''
  return (
    <section className="flex min-w-0 flex-1 flex-col" aria-label="People found">
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <p role="status" className="mr-auto">
          {count ? countWords(count, isAll) : 'Counting…'}
        </p>
        {count && !isAll && count.held > 0 && <LabelMany which={which} count={count} />}
        <select
          className="select select-sm w-40"
          aria-label="In which order"
          value={sort}
          onChange={(event) => onSort(event.target.value)}
        >
          {Object.entries(SORTS).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
        {mayExport && (
          <a className="btn btn-sm" href={fileOf(which, sort)} download>
            <Download size={14} aria-hidden="true" /> CSV
          </a>
        )}
        <ColumnChoice chosen={columns} onChange={setColumns} />
      </div>
      <div className="panel min-h-0 overflow-auto">
        {found.error && <Problem error={found.error} retry={found.refetch} />}
        {!found.people && !found.error && <Loading what="people" />}
        {found.people && (
          <Outdated isOutdated={found.isOutdated}>
            {found.people.length === 0 ? (
              <Nobody isAll={isAll} />
            ) : (
              <PeopleTable people={found.people} columns={columns} />
            )}
          </Outdated>
        )}
        {found.more && (
          <p className="p-3">
            <button type="button" className="btn btn-sm" disabled={found.isFetchingMore} onClick={found.more}>
              {found.isFetchingMore ? 'Looking…' : 'Show more'}
            </button>
          </p>
        )}
      </div>
    </section>
  )
} // prettier-ignore

const fileOf = ({ search, condition }: Which, sort: string): string =>
  `/api/people-file${queryOf({ search, sort, condition: condition ? JSON.stringify(condition) : undefined })}`

const Nobody = ({ isAll }: { isAll: boolean }): ReactNode =>
  isAll ? (
    <Empty title="Nobody yet.">
      People appear here as soon as the shop tells of them, or once a file of them is brought in.
    </Empty>
  ) : (
    <Empty title="Nobody like that.">Take a condition away, or search for less.</Empty>
  )

/** "412 of 4,000 people"; of many, from those that were drawn, with the span it lies in. */
function countWords({ of, looked, held }: PeopleCount, isAll: boolean): string {
  if (isAll) return of === 1 ? '1 person' : `${of.toLocaleString('en')} people`
  if (looked === of) return `${held.toLocaleString('en')} of ${of.toLocaleString('en')} people`
  const span = rateInterval({ did: held, of: looked })
  const about = (share: number): string => Math.round(share * of).toLocaleString('en')
  const between = span ? `, between ${about(span.low)} and ${about(span.high)}` : ''
  return `About ${about(held / looked)} of ${of.toLocaleString('en')} people${between}`
}
