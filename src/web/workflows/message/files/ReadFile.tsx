import { FileUp } from 'lucide-react'
import { useRef, type ReactNode } from 'react'
import { toast } from 'sonner'
import { readMessage, type ReadMessage } from './readMessage.ts'

/** Takes a message from a file: one that was saved here, or HTML or MJML from elsewhere. */
export function ReadFile({ onRead }: { onRead: (message: ReadMessage) => void }): ReactNode {
  const input = useRef<HTMLInputElement>(null)
  const read = async (file: File) => {
    try {
      onRead(readMessage(await file.text()))
      toast.success('Read. Undo brings back what was here.')
    } catch (problem) {
      toast.error((problem as Error).message)
    }
  }
  return (
    <>
      <input
        ref={input}
        type="file"
        className="hidden"
        aria-label="A message as a file"
        accept=".html,.htm,.mjml,.json,text/html,application/json"
        onChange={(event) => {
          const [file] = event.target.files ?? []
          event.target.value = ''
          if (file) void read(file)
        }}
      />
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        title="HTML, MJML, or a message that was saved here"
        onClick={() => input.current?.click()}
      >
        <FileUp size={14} aria-hidden="true" /> Read a file
      </button>
    </>
  )
}
