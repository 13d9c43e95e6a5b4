import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { z } from 'zod'
import { likenessesResponse, rehearsalPerson } from '../../../contract/rehearsal.ts'
import { EVENT_WORDS } from '../../../core/words/eventWords.ts'
import { dateWords } from '../../../core/words/quantities.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import type { Trigger } from '../../../core/workflow/trigger.ts'
import { getJson, queryOf, sendJson } from '../../ui/data/api.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { SearchField } from '../../ui/fields/SearchField.tsx'
import { Outdated, Problem } from '../../ui/states.tsx'

interface Props {
  trigger: Trigger
  onChoose: (subject: Subject) => void
}

/** Somebody real, found by name, address or number: who is made up becomes like them, as they were then. */
export function Real({ trigger, onChoose }: Props): ReactNode {
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
                {chosen === id && (
                  <Occasions customerId={id} trigger={trigger} onChoose={onChoose} />
                )}
              </li>
            ))}
          </ul>
        </Outdated>
      )}
    </section>
  )
}

interface OccasionsProps extends Props {
  customerId: string
}

/** When it could have begun for them. */
function Occasions({ customerId, trigger, onChoose }: OccasionsProps): ReactNode {
  const { zone } = useShop()
  const { data, error, isPending } = useQuery({
    queryKey: ['rehearsal', 'likenesses', customerId, trigger],
    queryFn: () => sendJson('POST', '/api/rehearsal/likenesses', likenessesResponse, { customerId, trigger }), // prettier-ignore
  })
  if (error) return <Problem error={error} />
  if (isPending) return <p className="pl-3 text-xs text-secondary">Looking …</p>
  if (data.length === 0) {
    return <p className="pl-3 text-xs text-secondary">Nothing it starts by has happened to them.</p>
  }
  return (
    <ul className="pl-3 text-xs">
      {data.map(({ event, type, at, number, subject }) => (
        <li key={event}>
          <button
            type="button"
            className="link min-h-6 text-left"
            onClick={() => onChoose(subject)}
          >
            {number === null ? '' : `${number}, `}
            {EVENT_WORDS[type].label} {dateWords(at, zone)}
          </button>
        </li>
      ))}
    </ul>
  )
}
