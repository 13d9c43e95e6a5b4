import { useQueryClient } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { archiveReport, type ArchiveReport } from '../../contract/archives.ts'
import { plural } from '../../core/words/quantities.ts'
import { sendFile } from '../ui/data/api.ts'
import { useChange } from '../ui/data/useChange.tsx'
import { UploadButton } from '../ui/fields/UploadButton.tsx'

/** Workflows as one file with all they need, and such a file brought in once one has seen what would come of it. */
export function Archive(): ReactNode {
  const queries = useQueryClient()
  const [file, setFile] = useState<File | null>(null)
  const [tried, setTried] = useState<ArchiveReport | null>(null)
  const [withBrand, setWithBrand] = useState(false)
  const take = useChange(
    () => sendFile(`/api/archive?brand=${withBrand ? 'yes' : 'no'}`, file ?? new File([], ''), archiveReport),
    'workflows',
    () => {
      setTried(null)
      void queries.invalidateQueries()
    },
  )
  return (
    <section className="mt-6" aria-labelledby="archive">
      <h2 id="archive" className="mb-1 font-medium">
        Workflows
      </h2>
      <p className="mb-2 text-secondary">
        All of them in one file, with their messages, examples, pictures, kept blocks, designs and the brand. Brought into another
        shop each becomes a draft; products and workflows are matched by name, and what does not fit is said.
      </p>
      <div className="panel p-3">
        <div className="flex flex-wrap gap-2">
          <a className="btn btn-sm" href="/api/archive" download>
            <Download size={14} aria-hidden="true" /> All workflows
          </a>
          <UploadButton
            label="Bring in workflows"
            accept=".zip,application/zip"
            className="btn-sm"
            send={async (chosen) => {
              const report = await sendFile('/api/archive?dry=yes', chosen, archiveReport)
              setFile(chosen)
              return report
            }}
            onStored={(report) => {
              take.reset()
              setTried(report)
            }}
            cameTooLate="The file was read; choose it again."
          />
        </div>
        {tried && (
          <div role="status" className="mt-3 border-t border-base-300 pt-3">
            <Report key={file?.lastModified} report={tried} isDone={false} />
            {tried.hasBrand && (
              <label className="mt-2 flex min-h-6 items-center gap-2">
                <input type="checkbox" className="checkbox checkbox-xs" checked={withBrand} onChange={(event) => setWithBrand(event.target.checked)} />
                The brand too: it takes the place of this shop’s
              </label>
            )}
            <p className="mt-3 flex gap-2">
              <button type="button" className="btn btn-primary btn-sm" disabled={take.isPending} onClick={() => take.mutate()}>
                Bring them in
              </button>
              <button type="button" className="btn btn-ghost btn-sm" onClick={() => setTried(null)}>
                Leave it
              </button>
            </p>
          </div>
        )}
        {take.data && !tried && (
          <div role="status" className="mt-3 border-t border-base-300 pt-3">
            <Report report={take.data} isDone />
          </div>
        )}
      </div>
    </section>
  )
} // prettier-ignore

function Report({ report, isDone }: { report: ArchiveReport; isDone: boolean }): ReactNode {
  const heading = useRef<HTMLParagraphElement>(null)
  // The page is long: what became of the file comes into sight by itself.
  useEffect(() => {
    heading.current?.scrollIntoView({ block: 'start' })
  }, [])
  const { from, workflows, pictures, documents, kept, designs, remarks } = report
  const beside = [
    pictures > 0 && plural(pictures, 'picture'),
    documents > 0 && plural(documents, 'file'),
    kept > 0 && plural(kept, 'kept block'),
    designs > 0 && plural(designs, 'design'),
  ].filter((part) => part !== false)
  return (
    <>
      <p ref={heading} className="scroll-mt-16">
        {isDone ? 'Brought in' : 'Would come'} from {from}: {plural(workflows.length, 'draft')}
        {beside.length > 0 && `, ${beside.join(', ')}`}.
      </p>
      {remarks.map((remark) => (
        <p key={remark} className="text-accent">
          {remark}
        </p>
      ))}
      <ul className="mt-2">
        {workflows.map(({ id, name, remarks: own }) => (
          <li key={id} className="py-0.5">
            {isDone ? (
              <Link className="font-medium hover:underline" to={`/workflows/${id}`}>
                {name}
              </Link>
            ) : (
              <span className="font-medium">{name}</span>
            )}
            {own.map((remark) => (
              <span key={remark} className="block pl-4 text-accent">
                {remark}
              </span>
            ))}
          </li>
        ))}
      </ul>
    </>
  )
}
