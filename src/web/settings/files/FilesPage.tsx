import { useQuery, useQueryClient } from '@tanstack/react-query'
import { ArrowLeft, FileText, Trash2 } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import {
  libraryResponse,
  type FileUse,
  type Library,
  type Picture,
} from '../../../contract/files.ts'
import { mayWrite } from '../../../contract/roles.ts'
import { ConfirmButton } from '../../ui/fields/ConfirmButton.tsx'
import { SearchField } from '../../ui/fields/SearchField.tsx'
import { UploadButton } from '../../ui/fields/UploadButton.tsx'
import { getJson, send } from '../../ui/data/api.ts'
import { Time, useSession } from '../../ui/data/shop.tsx'
import { fittedFile } from '../../ui/mail/fittedFile.ts'
import { sendImage } from '../../ui/mail/sendImage.ts'
import { PageHeading } from '../../ui/PageHeading.tsx'
import { Empty, Loading, Problem } from '../../ui/states.tsx'

const IMAGES = 'image/png,image/jpeg,image/gif,image/webp'

/** The pictures and files of a shop's messages: where each is used, another in its place, those that nobody needs. */
export function FilesPage(): ReactNode {
  const { user } = useSession()
  const queries = useQueryClient()
  const [search, setSearch] = useState('')
  const { data, error, refetch } = useQuery({
    queryKey: ['files'],
    queryFn: () => getJson('/api/files', libraryResponse),
  })
  if (error) return <Problem error={error} retry={() => void refetch()} />
  if (!data) return <Loading what="the pictures" />
  const mayEdit = mayWrite(user.role)
  const refresh = () => queries.invalidateQueries({ queryKey: ['files'] })
  const isFound = ({ name, uses }: { name: string; uses: FileUse[] }) =>
    [name, ...uses.map((use) => use.name)].some((words) =>
      words.toLowerCase().includes(search.trim().toLowerCase()),
    )
  const pictures = data.pictures.filter(isFound)
  const documents = data.documents.filter(isFound)
  return (
    <div className="mx-auto max-w-5xl p-4">
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <Link className="btn btn-ghost btn-sm" to="/settings">
          <ArrowLeft size={15} aria-hidden="true" /> Settings
        </Link>
        <PageHeading title="Pictures and files" />
        <span className="ml-auto flex items-center gap-2">
          <SearchField label="Find a picture or file" placeholder="Name, workflow …" value={search} onSearch={setSearch} />
          {mayEdit && (
            <UploadButton
              label="Put in a picture"
              accept={IMAGES}
              className="btn-sm"
              send={sendImage}
              onStored={() => void refresh()}
              cameTooLate="The picture is there; it stands among the others."
            />
          )}
        </span>
      </div>
      {data.pictures.length + data.documents.length === 0 && (
        <Empty title="Nothing was put in yet.">Pictures come in where a message has an image, or here.</Empty>
      )}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-3" aria-label="Pictures">
        {pictures.map((picture) => (
          <PictureCard key={picture.id} picture={picture} mayEdit={mayEdit} onChanged={refresh} />
        ))}
      </ul>
      {documents.length > 0 && <Documents all={documents} mayEdit={mayEdit} onChanged={refresh} />}
    </div>
  )
} // prettier-ignore

interface CardProps {
  picture: Picture
  mayEdit: boolean
  onChanged: () => Promise<void>
}

function PictureCard({ picture, mayEdit, onChanged }: CardProps): ReactNode {
  const { id, url, name, width, height, bytes, uses } = picture
  // What the browser has kept is the one before.
  const [replaced, setReplaced] = useState(0)
  const replace = async (file: File) => send('PUT', `/api/files/${id}`, await fittedFile(file, { width, height })) // prettier-ignore
  return (
    <li className="panel flex flex-col overflow-hidden p-0">
      <div className="flex h-40 items-center justify-center border-b border-base-300 bg-base-200 p-2">
        <img src={replaced === 0 ? url : `${url}?${replaced}`} alt="" className="max-h-full max-w-full object-contain" />
      </div>
      <div className="flex flex-1 flex-col gap-1 p-3">
        <p className="truncate font-medium" title={name}>{name}</p>
        <p className="font-mono text-xs text-secondary">{width} × {height} · {kilobytes(bytes)}</p>
        <Uses uses={uses} />
        {mayEdit && (
          <div className="mt-auto flex items-center gap-1 pt-2">
            <UploadButton
              label="Replace everywhere"
              accept={IMAGES}
              className="btn-xs"
              send={replace}
              onStored={() => {
                setReplaced(replaced + 1)
                toast.success('Replaced wherever it is used. Messages that have gone out show it within the hour.')
                void onChanged()
              }}
              cameTooLate="The picture is replaced."
            />
            <Remove id={id} name={name} uses={uses} onChanged={onChanged} isPicture />
          </div>
        )}
      </div>
    </li>
  )
} // prettier-ignore

const kilobytes = (bytes: number): string => `${Math.max(1, Math.round(bytes / 1000))} kB`

const KINDS = { workflow: '', design: 'the design', keptBlock: 'the kept block', brand: 'the brand', product: '' } as const // prettier-ignore

/** Where it is used: workflows lead there, products are counted. */
function Uses({ uses }: { uses: readonly FileUse[] }): ReactNode {
  if (uses.length === 0) return <p className="text-xs text-secondary">used nowhere</p>
  const products = uses.filter(({ kind }) => kind === 'product')
  const others = uses.filter(({ kind }) => kind !== 'product')
  const [only] = products
  const counted = products.length === 1 ? only?.name : `${products.length} products`
  return (
    <p className="text-xs text-secondary" title={uses.map(({ name }) => name).join(', ')}>
      in{' '}
      {others.map(({ kind, name, workflow }, index) => (
        <span key={`${kind} ${workflow} ${name}`}>
          {index > 0 && ', '}
          {workflow ? <Link className="link" to={`/workflows/${workflow}`}>{name}</Link> : `${KINDS[kind]} ${name}`.trim()}
        </span>
      ))}
      {others.length > 0 && products.length > 0 && ', '}
      {products.length > 0 && counted}
    </p>
  )
} // prettier-ignore

function Remove({
  id,
  name,
  uses,
  onChanged,
  isPicture = false,
}: {
  id: string
  name: string
  uses: readonly FileUse[]
  onChanged: () => Promise<void>
  isPicture?: boolean
}): ReactNode {
  const remove = async () => {
    try {
      await send('DELETE', `/api/files/${id}`)
      await onChanged()
    } catch (problem) {
      toast.error((problem as Error).message)
    }
  }
  const gone = isPicture ? ' Messages that have gone out with it show none.' : ''
  return (
    <ConfirmButton
      className="btn btn-ghost btn-xs btn-square"
      label={<Trash2 size={13} aria-hidden="true" />}
      ariaLabel={`Remove ${name}`}
      disabled={uses.length > 0}
      consequence={`It is kept no longer.${gone}`}
      confirm="Remove it"
      onConfirm={() => void remove()}
    />
  )
}

function Documents({
  all,
  mayEdit,
  onChanged,
}: {
  all: Library['documents']
  mayEdit: boolean
  onChanged: () => Promise<void>
}): ReactNode {
  return (
    <section className="mt-6" aria-label="Files">
      <h2 className="mb-2">Files that go with messages</h2>
      <ul className="panel divide-y divide-base-300 p-0">
        {all.map(({ id, name, bytes, madeAt, uses }) => (
          <li key={id} className="flex items-center gap-3 px-3 py-2">
            <FileText size={15} aria-hidden="true" className="shrink-0 text-secondary" />
            <a className="link min-w-0 truncate" href={`/api/documents/${id}`}>
              {name}
            </a>
            <span className="font-mono text-xs text-secondary">{kilobytes(bytes)}</span>
            <span className="ml-auto">
              <Uses uses={uses} />
            </span>
            <Time at={madeAt} />
            {mayEdit && <Remove id={id} name={name} uses={uses} onChanged={onChanged} />}
          </li>
        ))}
      </ul>
    </section>
  )
}
