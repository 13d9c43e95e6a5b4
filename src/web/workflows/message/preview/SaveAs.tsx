import { Download } from 'lucide-react'
import type { ReactNode } from 'react'
import { toast } from 'sonner'
import type { Preview } from '../../../../contract/messages.ts'
import { sendForText } from '../../../ui/data/api.ts'
import type { PreviewInput } from '../../../ui/mail/usePreview.ts'

interface Props {
  input: PreviewInput
  preview: Preview | undefined
}

const CHOICE = 'w-full rounded-field px-2 py-1 text-left hover:bg-base-200'

/** The message as it is seen, as a file: HTML, plain text, or the whole mail (RFC 5322). */
export function SaveAs({ input, preview }: Props): ReactNode {
  if (!preview || preview.problem !== null) return null
  const saveMail = async () => {
    try {
      save('message.eml', 'message/rfc822', await sendForText('/api/messages/eml', input))
    } catch (problem) {
      toast.error((problem as Error).message)
    }
  }
  return (
    <details className="relative">
      <summary className="btn btn-ghost btn-xs" aria-label="Save as a file" title="Save as a file">
        <Download size={14} aria-hidden="true" />
      </summary>
      <ul className="panel absolute top-7 right-0 z-30 w-44 p-1">
        {preview.html !== null && (
          <li>
            <button
              type="button"
              className={CHOICE}
              onClick={() => save('message.html', 'text/html', preview.html ?? '')}
            >
              HTML
            </button>
          </li>
        )}
        <li>
          <button
            type="button"
            className={CHOICE}
            onClick={() => save('message.txt', 'text/plain', preview.text)}
          >
            Plain text
          </button>
        </li>
        <li>
          <button type="button" className={CHOICE} onClick={() => void saveMail()}>
            Whole mail (.eml)
          </button>
        </li>
      </ul>
    </details>
  )
}

function save(name: string, type: string, content: string): void {
  const url = URL.createObjectURL(new Blob([content], { type: `${type};charset=utf-8` }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  // The browser has taken it by then.
  setTimeout(() => URL.revokeObjectURL(url), 10_000)
}
