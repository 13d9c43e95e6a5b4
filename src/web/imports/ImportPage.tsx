import { useQuery, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import type { z } from 'zod'
import { importDetail, type ImportReading } from '../../contract/imports.ts'
import { KIND_WORDS, missingIn, TARGETS, type ImportKind } from '../../core/imports/kinds.ts'
import { getJson, send } from '../ui/data/api.ts'
import { Time } from '../ui/data/shop.tsx'
import { useChange } from '../ui/data/useChange.tsx'
import { ChoiceField } from '../ui/fields/fields.tsx'
import { ConfirmButton } from '../ui/fields/ConfirmButton.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { countsWords, STATE_WORDS } from './importWords.ts'
import { TryOut } from './TryOut.tsx'

type Detail = z.infer<typeof importDetail>

/** One file: what its columns tell, what it would come to, what came of it. */
export function ImportPage(): ReactNode {
  const { id = '' } = useParams()
  const { data, error, refetch } = useQuery({
    queryKey: ['import', id],
    queryFn: () => getJson(`/api/imports/${id}`, importDetail),
    refetchInterval: ({ state }) => (state.data?.state === 'running' ? 1000 : false),
  })
  if (error) return <Problem error={error} retry={() => void refetch()} />
  if (!data) return <Loading what="the file" />
  return (
    <div className="mx-auto max-w-6xl p-4">
      <p className="mb-1 text-xs text-secondary">
        <Link to="/people/files" className="hover:underline">
          Files
        </Link>
      </p>
      <PageHeading title={data.name} />
      <p className="mt-1 mb-3 text-secondary">
        {Math.max(1, Math.round(data.bytes / 1000)).toLocaleString('en')} kB, {STATE_WORDS[data.state]}, by {data.person},{' '}
        <Time at={data.createdAt} />
      </p>
      {data.state === 'uploaded' ? <Prepare detail={data} /> : <Outcome detail={data} />}
    </div>
  )
} // prettier-ignore

function Prepare({ detail }: { detail: Detail }): ReactNode {
  const queries = useQueryClient()
  const { id, kind, mapping, format, heads, first } = detail
  const refresh = () => void queries.invalidateQueries({ queryKey: ['import'] })
  const set = useChange((reading: ImportReading) => send('PUT', `/api/imports/${id}/reading`, reading), 'import', refresh)
  const begin = useChange(() => send('POST', `/api/imports/${id}/begin`), 'import', refresh)
  const shown = set.isPending && set.variables.kind === kind ? set.variables : { kind, mapping, format }
  const missing = missingIn(kind, shown.mapping)
  return (
    <>
      <section className="panel mb-4 grid gap-4 p-4 sm:grid-cols-3" aria-label="How it is read">
        <ChoiceField label="What it tells" value={kind} choices={KIND_WORDS} onChange={(next: ImportKind) => set.mutate({ ...shown, kind: next })} />
        <ChoiceField label="Amounts" value={shown.format.decimal} choices={{ '.': '1,234.50', ',': '1.234,50' }} onChange={(decimal) => set.mutate({ ...shown, format: { ...shown.format, decimal } })} />
        <ChoiceField label="Dates" value={shown.format.dates} choices={{ dmy: 'day first: 14.04.2026', mdy: 'month first: 04/14/2026' }} onChange={(dates) => set.mutate({ ...shown, format: { ...shown.format, dates } })} />
      </section>
      <section className="panel mb-4 overflow-x-auto" aria-label="Columns">
        <table className="table table-sm">
          <thead>
            <tr>
              <th scope="col">Column</th>
              <th scope="col">tells</th>
              <th scope="col">First rows</th>
            </tr>
          </thead>
          <tbody>
            {heads.map((head, column) => (
              <tr key={column}>
                <th scope="row" className="font-medium">{head || `(column ${column + 1})`}</th>
                <td>
                  <select
                    className="select select-sm w-64"
                    aria-label={`What “${head}” tells`}
                    value={Object.keys(shown.mapping).find((key) => shown.mapping[key] === column) ?? ''}
                    onChange={({ target }) => set.mutate({ ...shown, mapping: mapped(shown.mapping, column, target.value) })}
                  >
                    <option value="">nothing that is needed</option>
                    {TARGETS[kind].map(({ key, label, isNeeded }) => (
                      <option key={key} value={key}>
                        {label}
                        {isNeeded ? ' *' : ''}
                      </option>
                    ))}
                  </select>
                </td>
                <td className="max-w-96 truncate text-xs text-secondary">{first.map((cells) => cells[column] ?? '').filter((cell) => cell !== '').slice(0, 4).join(' · ')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {missing.length > 0 && (
        <p role="alert" className="mb-3 text-accent">
          No column tells the {missing.map(({ label }) => label).join(', the ')}. Choose one above.
        </p>
      )}
      <TryOut id={id} reading={JSON.stringify({ kind, mapping, format })} isReady={missing.length === 0 && !set.isPending} heads={heads} />
      <p className="mt-4">
        <button type="button" className="btn btn-primary" disabled={missing.length > 0 || begin.isPending} onClick={() => begin.mutate()}>
          Bring it in
        </button>
      </p>
    </>
  )
} // prettier-ignore

/** The columns with one telling something else; what it tells no other column does. */
function mapped(before: Detail['mapping'], column: number, key: string): Detail['mapping'] {
  const others = Object.entries(before).filter(([other, at]) => at !== column && other !== key)
  return { ...Object.fromEntries(others), ...(key !== '' && { [key]: column }) }
}

function Outcome({ detail }: { detail: Detail }): ReactNode {
  const queries = useQueryClient()
  const { id, state, counts, error, endedAt } = detail
  const undo = useChange(() => send('POST', `/api/imports/${id}/undo`), 'import', () => void queries.invalidateQueries()) // prettier-ignore
  return (
    <section className="panel p-4" aria-label="What came of it">
      <h2 className="text-base" role="status">
        {countsWords(counts)}
      </h2>
      <p className="mt-1 text-secondary">
        {state === 'running' ? `${counts.rows.toLocaleString('en')} rows so far …` : `${counts.rows.toLocaleString('en')} rows`}
        {endedAt !== null && (
          <>
            , ended <Time at={endedAt} />
          </>
        )}
      </p>
      {error !== null && <p className="mt-2 text-accent">{error} What came before that row is in.</p>}
      <p className="mt-3 flex flex-wrap gap-2">
        {counts.refused > 0 && (
          <a className="btn btn-sm" href={`/api/imports/${id}/refused`} download>
            Refused rows, to mend
          </a>
        )}
        {(state === 'done' || state === 'failed') && (
          <ConfirmButton
            label="Undo it"
            consequence="What it told is forgotten, and what it wrote over stands as before. What the shop has told since holds."
            confirm="Undo it"
            onConfirm={() => undo.mutate()}
          />
        )}
      </p>
    </section>
  )
} // prettier-ignore
