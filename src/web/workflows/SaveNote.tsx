import { memo, type ReactNode } from 'react'
import type { Draft } from './useDraft.ts'

type Props = Pick<Draft, 'save' | 'takeTheirs' | 'keepMine'>

/** Says when what is on the screen is not what the server has, and what to do. Else nothing. */
export const SaveNote = memo(function SaveNote(props: Props): ReactNode {
  const { save, takeTheirs, keepMine } = props
  if (save.kind === 'saved' || save.kind === 'saving') {
    return (
      <span role="status" className="sr-only">
        {save.kind === 'saved' ? 'Draft saved' : 'Saving the draft'}
      </span>
    )
  }
  return (
    <div role="alert" className="panel flex flex-wrap items-center gap-3 border-accent px-4 py-2">
      <span>
        {save.kind === 'keptHere'
          ? `Your changes are kept in this browser, and sent once it is back. ${save.message}`
          : save.message}
      </span>
      {save.kind === 'conflict' && (
        <span className="ml-auto flex gap-2">
          <button type="button" className="btn btn-sm" onClick={() => void takeTheirs()}>
            Show theirs
          </button>
          <button type="button" className="btn btn-sm" onClick={() => void keepMine()}>
            Replace theirs with mine
          </button>
        </span>
      )}
    </div>
  )
})
