import { Paperclip, Trash2 } from 'lucide-react'
import type { ReactNode } from 'react'
import { z } from 'zod'
import type { DocumentRef } from '../../../core/workflow/steps.ts'
import { queryOf, sendFile } from '../../ui/data/api.ts'
import { UploadButton } from '../../ui/fields/UploadButton.tsx'
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
        <UploadButton
          label="Take a file"
          accept=".pdf,.png,.jpg,.jpeg,.ics,.txt,.csv"
          className="btn-xs mt-1"
          send={sendDocument}
          onStored={(document) => onChange([...documents, document])}
          cameTooLate="The file came after its message was closed. Open it and take it again."
        />
      )}
    </div>
  )
}

/** Keeps a file. What it is, the server reads from its bytes. */
function sendDocument(file: File): Promise<DocumentRef> {
  const plain = new File([file], file.name, { type: 'application/octet-stream' })
  return sendFile(`/api/documents${queryOf({ name: file.name })}`, plain, stored)
}
