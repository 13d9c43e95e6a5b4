import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { z } from 'zod'
import { rehearsalPerson } from '../../../contract/rehearsal.ts'
import { getJson, queryOf } from '../../ui/data/api.ts'
import { SearchField } from '../../ui/fields/SearchField.tsx'
import { Outdated, Problem } from '../../ui/states.tsx'
import { Occasions, type OccasionsFor } from './Occasions.tsx'

/** Somebody real, found by name, address or number: who is made up becomes like them, as they were then. */
export function Real(props: OccasionsFor): ReactNode {
  const [search, setSearch] = useState('')
  const [chosen, setChosen] = useState<string | null>(null)
  const found = useQuery({
    queryKey: ['rehearsal', 'people', search],
    queryFn: ({ signal }) =>
      getJson(`/api/rehearsal/people${queryOf({ search })}`, z.array(rehearsalPerson), signal),
    placeholderData: (previous) => previous,
    enabled: search !== '',
  })
  return (
    <section className="panel p-4" aria-label="Like somebody real">
      <h2 className="mb-2 text-base">Like somebody real</h2>
      <SearchField
        label="Search people"
        className="w-full"
        placeholder="Name, address or order number"
        value={search}
        onSearch={(to) => {
          setSearch(to)
          setChosen(null)
        }}
      />
      {found.error && <Problem error={found.error} />}
      {search !== '' && found.data && (
        <Outdated isOutdated={found.isPlaceholderData}>
          <ul className="mt-2 flex flex-col gap-1">
            {found.data.length === 0 && <li className="text-secondary">Nobody.</li>}
            {found.data.map(({ id, name, email }) => (
              <li key={id}>
                <button
                  type="button"
                  aria-expanded={chosen === id}
                  className="min-h-6 w-full truncate text-left hover:underline"
                  onClick={() => setChosen(chosen === id ? null : id)}
                >
                  {name ?? email ?? id}
                </button>
                {chosen === id && <Occasions customerId={id} {...props} />}
              </li>
            ))}
          </ul>
        </Outdated>
      )}
    </section>
  )
}
