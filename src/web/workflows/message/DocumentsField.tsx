import { Paperclip, Trash2, Upload } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import { z } from 'zod'
import type { DocumentRef } from '../../../core/workflow/steps.ts'
import { queryOf, sendFile } from '../../ui/api.ts'
import { useHere } from '../../ui/useHere.ts'
import { useLatest } from '../../ui/useLatest.ts'
import { sizeWords } from './sizeWords.ts'

/** More make a mail that is refused. */
const MOST = 5

const stored = z.object({ id: z.string(), name: z.string(), bytes: z.int() })

interface Props {
  documents: readonly DocumentRef[] | undefined
  onChange: (documents: DocumentRef[] | undefined) => void
}

/** Files that go with a message, the same for everybody. */
export function DocumentsField({ documents = [], onChange }: Props): ReactNode {
  return (
    <div className="mb-3" role="group" aria-label="Files with it">
      <p className="field-label">Files with it</p>
      <ul>
        {documents.map(({ id, name, bytes }) => (
          <li key={id} className="flex items-center gap-2 py-0.5">
            <Paperclip size={13} className="shrink-0 text-secondary" aria-hidden="true" />
            <a className="link min-w-0 flex-1 truncate" href={`/api/documents/${id}`}>
              {name}
            </a>
            <span className="font-mono text-xs text-secondary">{sizeWords(bytes)}</span>
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Take ${name} out`}
              onClick={() => {
                const rest = documents.filter((one) => one.id !== id)
                onChange(rest.length === 0 ? undefined : rest)
              }}
            >
              <Trash2 size={13} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      {documents.length < MOST && (
        <Take onTaken={(document) => onChange([...documents, document])} />
      )}
    </div>
  )
}

function Take({ onTaken }: { onTaken: (document: DocumentRef) => void }): ReactNode {
  const [isSending, setIsSending] = useState(false)
  // Meanwhile other things may have been written, which must not be undone.
  const latest = useLatest(onTaken)
  const here = useHere()
  const take = async (file: File | undefined) => {
    if (!file) return
    setIsSending(true)
    try {
      // What it is, the server reads from its bytes.
      const plain = new File([file], file.name, { type: 'application/octet-stream' })
      const path = `/api/documents${queryOf({ name: file.name })}`
      const document = await sendFile(path, plain, stored)
      if (here.current) latest.current(document)
      else toast.info('The file came after its message was closed. Open it and take it again.')
    } catch (problem) {
      toast.error((problem as Error).message)
    } finally {
      setIsSending(false)
    }
  }
  return (
    <label className={`btn btn-xs mt-1 ${isSending ? 'btn-disabled' : ''}`}>
      <Upload size={13} aria-hidden="true" /> {isSending ? 'Sending …' : 'Take a file'}
      <input
        type="file"
        className="sr-only"
        accept=".pdf,.png,.jpg,.jpeg,.ics,.txt,.csv"
        disabled={isSending}
        onChange={(event) => {
          void take(event.target.files?.[0])
          // The same file can be taken again.
          event.target.value = ''
        }}
      />
    </label>
  )
}
