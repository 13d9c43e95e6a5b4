import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { importDryRun, type ImportDryRun } from '../../contract/imports.ts'
import { sendJson } from '../ui/data/api.ts'
import { Problem } from '../ui/states.tsx'
import { countsWords } from './importWords.ts'

interface Props {
  id: string
  /** How the file is read now: another reading is tried anew. */
  reading: string
  isReady: boolean
  heads: readonly string[]
}

/** What bringing a file in would come to, with the first rows that would be refused. Nothing of it stays. */
export function TryOut({ id, reading, isReady, heads }: Props): ReactNode {
  const { data, error, isFetching } = useQuery({
    queryKey: ['import', id, 'try', reading],
    queryFn: () => sendJson('POST', `/api/imports/${id}/try`, importDryRun),
    enabled: isReady,
    retry: false,
    staleTime: 60_000,
  })
  if (!isReady) return null
  return (
    <section className="panel p-4" aria-label="What it would come to">
      <h2 className="text-base">What it would come to</h2>
      {error && <Problem error={error} />}
      {isFetching && !data && <p className="text-secondary">Trying …</p>}
      {data && (
        <>
          <p role="status">
            {countsWords(data.counts)}
            {data.isPart && `, of its first ${data.counts.rows.toLocaleString('en')} rows`}.
          </p>
          {data.refused.length > 0 && <Refused refused={data.refused} heads={heads} />}
        </>
      )}
    </section>
  )
}

function Refused({ refused, heads }: { refused: ImportDryRun['refused']; heads: readonly string[] }): ReactNode {
  return (
    <div className="mt-3 max-h-72 overflow-auto">
      <table className="table table-sm">
        <thead>
          <tr>
            <th scope="col">Row</th>
            <th scope="col">Why it is refused</th>
            {heads.slice(0, 5).map((head, index) => (
              <th key={index} scope="col">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {refused.map(({ place, cells, problems }) => (
            <tr key={place}>
              <td className="font-mono text-xs">{place}</td>
              <td>{problems.map(({ message }) => message).join('; ')}</td>
              {cells.slice(0, 5).map((cell, index) => (
                <td key={index} className="max-w-40 truncate text-xs text-secondary">
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
} // prettier-ignore
