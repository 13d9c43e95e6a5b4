import { Upload } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import { useHere } from '../hooks/useHere.ts'
import { useLatest } from '../hooks/useLatest.ts'
import { whenBack } from '../data/whenBack.ts'

interface Props<Stored> {
  label: string
  accept: string
  className: string
  send: (file: File) => Promise<Stored>
  onStored: (stored: Stored) => void
  /** Said when what it is for has gone from the screen before it was there. */
  cameTooLate: string
}

type State = 'ready' | 'sending' | 'waiting'

/** Takes a file from this computer and sends it; waits for a server that is away. */
export function UploadButton<Stored>(props: Props<Stored>): ReactNode {
  const { label, accept, className, send, onStored, cameTooLate } = props
  const [state, setState] = useState<State>('ready')
  // Meanwhile other things may have been written, which must not be undone.
  const latest = useLatest(onStored)
  const here = useHere()
  const take = async (file: File | undefined) => {
    if (!file) return
    setState('sending')
    try {
      const onAway = () => setState('waiting')
      const stored = await whenBack(() => send(file), { isWanted: () => here.current, onAway })
      if (here.current) latest.current(stored)
      else toast.info(cameTooLate)
    } catch (problem) {
      toast.error((problem as Error).message)
    } finally {
      setState('ready')
    }
  }
  return (
    <label className={`btn ${className} ${state === 'ready' ? '' : 'btn-disabled'}`}>
      <Upload size={14} aria-hidden="true" />
      <span role="status">{wordsOf(state, label)}</span>
      <input
        type="file"
        className="sr-only"
        aria-label={label}
        accept={accept}
        disabled={state !== 'ready'}
        onChange={(event) => {
          void take(event.target.files?.[0])
          // The same file can be taken again.
          event.target.value = ''
        }}
      />
    </label>
  )
}

function wordsOf(state: State, label: string): string {
  if (state === 'sending') return 'Sending …'
  return state === 'waiting' ? 'The server is away: trying again …' : label
}
