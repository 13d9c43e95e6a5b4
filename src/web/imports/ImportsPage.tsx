import { useQuery, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link, useNavigate } from 'react-router'
import { z } from 'zod'
import { importSummary, type ImportSummary } from '../../contract/imports.ts'
import { KIND_WORDS } from '../../core/imports/kinds.ts'
import { getJson, sendFile } from '../ui/data/api.ts'
import { Time } from '../ui/data/shop.tsx'
import { UploadButton } from '../ui/fields/UploadButton.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Empty, Loading, Problem } from '../ui/states.tsx'
import { DataTable, type DataColumn } from '../ui/table/DataTable.tsx'
import { Archive } from './Archive.tsx'
import { countsWords, STATE_WORDS } from './importWords.ts'
import { TakeOut } from './TakeOut.tsx'

const COLUMNS: readonly DataColumn<ImportSummary>[] = [
  { id: 'at', head: 'When', cell: ({ createdAt }) => <Time at={createdAt} /> },
  { id: 'name', head: 'File', className: 'max-w-72 truncate', cell: ({ id, name }) => <Link className="font-medium hover:underline" to={`/people/files/${id}`}>{name}</Link> },
  { id: 'kind', head: 'What it tells', isWide: true, cell: ({ kind }) => KIND_WORDS[kind] },
  { id: 'state', head: 'How it stands', cell: ({ state }) => STATE_WORDS[state] },
  { id: 'counts', head: 'What came of it', isWide: true, cell: ({ state, counts }) => (state === 'uploaded' ? '–' : countsWords(counts)) },
  { id: 'who', head: 'By', isWide: true, cell: ({ person }) => person },
] // prettier-ignore

/** Files that were brought in, and a new one. */
export function ImportsPage(): ReactNode {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const { data, error, refetch } = useQuery({
    queryKey: ['imports'],
    queryFn: () => getJson('/api/imports', z.array(importSummary)),
    refetchInterval: 3000,
  })
  const upload = async (file: File) => {
    const answer = z.object({ id: z.string() })
    const { id } = await sendFile(`/api/imports?name=${encodeURIComponent(file.name)}`, file, answer)
    void queries.invalidateQueries({ queryKey: ['imports'] })
    return id
  }
  return (
    <div className="mx-auto max-w-5xl p-4">
      <p className="mb-1 text-xs text-secondary">
        <Link to="/people" className="hover:underline">
          People
        </Link>
      </p>
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <PageHeading title="Files" />
        <span className="ml-auto">
          <UploadButton
            label="Bring in a file"
            accept=".csv,.tsv,.txt,.jsonl,.ndjson,.xml,.rss,.atom,text/csv,application/x-ndjson,application/xml"
            className="btn-sm btn-primary"
            send={upload}
            onStored={(id) => void navigate(`/people/files/${id}`)}
            cameTooLate="The file is there; it stands in the list."
          />
        </span>
      </div>
      <p className="mb-3 text-secondary">
        CSV or JSON Lines of customers, orders, products, subscriptions, consents, or addresses not to write to; feeds of products (RSS, Atom). Nothing is changed
        before you have seen what it would come to, and for a day it can be undone. What is brought in from the past starts no
        workflow.
      </p>
      <h2 className="mb-2 font-medium">Brought in</h2>
      <div className="panel overflow-x-auto">
        {error && <Problem error={error} retry={() => void refetch()} />}
        {!data && !error && <Loading what="what was brought in" />}
        {data?.length === 0 && <Empty title="Nothing was brought in yet." />}
        {data && data.length > 0 && <DataTable<ImportSummary> rows={data} columns={COLUMNS} idOf={({ id }) => id} />}
      </div>
      <TakeOut />
      <Archive />
    </div>
  )
} // prettier-ignore
