import { Download } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import { previewResponse, type Preview } from '../../../../contract/messages.ts'
import { messageFile } from '../../../../core/designs/messageFile.ts'
import type { EmailStep, MessageStep } from '../../../../core/workflow/steps.ts'
import { sendForText, sendJson } from '../../../ui/data/api.ts'
import type { PreviewInput } from '../../../ui/mail/usePreview.ts'

interface Props {
  input: PreviewInput
  preview: Preview | undefined
}

/** How merge fields are written in a file: what they say for the one who is shown, or as another system's. */
const TAGS = {
  filled: 'filled, as seen here',
  liquid: 'as Liquid: {{ order.number }}',
  mustache: 'as Mustache: {{order.number}}',
  own: 'in a form of my own …',
} as const
type Tags = keyof typeof TAGS

/** The message as a file: HTML, plain text, the whole mail (RFC 5322), or the message itself to be read elsewhere. */
export function SaveAs({ input, preview }: Props): ReactNode {
  const [tags, setTags] = useState<Tags>('filled')
  const [own, setOwn] = useState('%{field}%')
  if (!preview || preview.problem !== null) return null
  const [message] = input.message
  const saved = async () => {
    const asked = { ...input, ...(tags !== 'filled' && { tags: tags === 'own' ? own : tags }) }
    return sendJson('POST', '/api/messages/preview', previewResponse, asked)
  }
  return (
    <details className="relative">
      <summary className="btn btn-ghost btn-xs" aria-label="Save as a file" title="Save as a file">
        <Download size={14} aria-hidden="true" />
      </summary>
      <div className="panel absolute top-7 right-0 z-30 w-72 p-2">
        {isDesigned(message) && (
          <label className="mb-2 block text-xs text-secondary">
            Merge fields in HTML and text
            <select className="select select-xs mt-1 w-full" value={tags} onChange={({ target }) => setTags(target.value as Tags)}>
              {Object.entries(TAGS).map(([key, words]) => <option key={key} value={key}>{words}</option>)}
            </select>
          </label>
        )}
        {tags === 'own' && (
          <input className="input input-xs mb-2 w-full font-mono" aria-label="The form, with {field} in it" value={own} onChange={({ target }) => setOwn(target.value)} />
        )}
        <ul>
          {preview.html !== null && (
            <Choice onChoose={async () => save('message.html', 'text/html', (await saved()).html ?? '')}>HTML</Choice>
          )}
          <Choice onChoose={async () => save('message.txt', 'text/plain', (await saved()).text)}>Plain text</Choice>
          <Choice onChoose={async () => save('message.eml', 'message/rfc822', await sendForText('/api/messages/eml', input))}>
            Whole mail (.eml)
          </Choice>
          {isDesigned(message) && (
            <Choice onChoose={() => save('message.json', 'application/json', JSON.stringify(messageFile(message), null, 2))}>
              The message itself, to be read again (.json)
            </Choice>
          )}
        </ul>
      </div>
    </details>
  )
} // prettier-ignore

const isDesigned = (message: MessageStep): message is EmailStep =>
  message.kind === 'email' && message.format === 'designed'

function Choice({
  onChoose,
  children,
}: {
  onChoose: () => void | Promise<void>
  children: ReactNode
}): ReactNode {
  const choose = async () => {
    try {
      await onChoose()
    } catch (problem) {
      toast.error((problem as Error).message)
    }
  }
  return (
    <li>
      <button
        type="button"
        className="w-full rounded-field px-2 py-1 text-left hover:bg-base-200"
        onClick={() => void choose()}
      >
        {children}
      </button>
    </li>
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
