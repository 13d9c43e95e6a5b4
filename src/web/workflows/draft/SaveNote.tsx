import { memo, type ReactNode } from 'react'
import { toast } from 'sonner'
import type { PlacedProblem } from './draftSaver.ts'
import type { Draft } from './useDraft.ts'

type Props = Pick<Draft, 'save' | 'takeTheirs' | 'keepMine'> & {
  /** Leads to where it is to be mended. */
  onShow: (problem: PlacedProblem) => void
}

/** Says when what is on the screen is not what the server has, and what to do. Else nothing. */
export const SaveNote = memo(function SaveNote(props: Props): ReactNode {
  const { save, takeTheirs, keepMine, onShow } = props
  if (save.kind === 'saved' || save.kind === 'saving') {
    return (
      <span role="status" className="sr-only">
        {save.kind === 'saved' ? 'Draft saved' : 'Saving the draft'}
      </span>
    )
  }
  return (
    <div role="alert" className="panel flex flex-wrap items-center gap-3 border-accent px-4 py-2">
      {save.kind === 'refused' && save.problems.length > 0 ? (
        <Refused problems={save.problems} onShow={onShow} />
      ) : (
        <span>
          {save.kind === 'keptHere'
            ? `Your changes are kept in this browser, and sent once it is back. ${save.message}`
            : save.message}
        </span>
      )}
      {save.kind === 'conflict' && (
        <span className="ml-auto flex gap-2">
          <button type="button" className="btn btn-sm" onClick={told(takeTheirs)}>
            Show theirs
          </button>
          <button type="button" className="btn btn-sm" onClick={told(keepMine)}>
            Replace theirs with mine
          </button>
        </span>
      )}
    </div>
  )
})

/** Does it, and says if it failed. */
const told = (act: () => Promise<void>) => () => {
  act().catch((error: Error) => toast.error(error.message))
}

/** What the server cannot take: where it is, what is wrong, and what becomes of it. */
function Refused({
  problems,
  onShow,
}: {
  problems: readonly PlacedProblem[]
  onShow: Props['onShow']
}): ReactNode {
  return (
    <div className="flex flex-col gap-1">
      {problems.map((problem) => (
        <span key={`${problem.words} ${problem.message}`}>
          {problem.words} {problem.message}.{' '}
          <button type="button" className="link" onClick={() => onShow(problem)}>
            Show it
          </button>
        </span>
      ))}
      <span className="text-secondary">
        Until that is put right nothing more is saved: your changes are kept in this browser.
      </span>
    </div>
  )
}
