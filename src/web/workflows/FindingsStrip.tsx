import { CircleAlert, CircleCheck, CircleHelp, MessageSquareText } from 'lucide-react'
import { memo, useMemo, useState, type ReactNode } from 'react'
import { answer, reopen, sortedByAnswer } from '../../core/check/answers.ts'
import { findingId, type Finding } from '../../core/check/finding.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import type { Selection } from './selection.ts'
import { useFindings } from './useFindings.ts'

interface Props {
  /** The workflow's id. */
  id: string
  definition: Definition
  /** Only what is about this step. */
  only?: string | undefined
  onSelect: (selection: Selection) => void
  /** Missing for those who may only look. */
  onEdit: ((edit: Edit) => void) | undefined
}

type Edit = (before: Definition) => Definition

/** What the go-live check found; each finding leads to its place, and is mended or answered here. */
export const FindingsStrip = memo(function FindingsStrip(props: Props): ReactNode {
  const { id, definition, only, onSelect, onEdit } = props
  const all = useFindings(id, definition)
  const findings = useMemo(
    () =>
      all && only !== undefined
        ? all.filter(({ place }) => place.kind === 'step' && place.key === only)
        : all,
    [all, only],
  )
  // Nothing is mended twice while the check has not looked again.
  const [mended, setMended] = useState(findings)
  const isOld = mended !== null && mended === findings
  const cards = useMemo(
    () => ({
      onSelect,
      isOld,
      onEdit:
        onEdit &&
        ((edit: Edit) => {
          onEdit(edit)
          setMended(findings)
        }),
    }),
    [onSelect, onEdit, findings, isOld],
  )
  const { answered: answers } = definition
  const sorted = useMemo(() => findings && sortedByAnswer(findings, answers), [findings, answers])
  if (!sorted) return <p className="text-secondary">The go-live check is looking …</p>
  const { open, answered } = sorted
  if (open.length === 0 && answered.length === 0) {
    return (
      <p className="flex items-center gap-2 text-secondary print:hidden" data-testid="no-findings">
        <CircleCheck size={16} className="text-primary" aria-hidden="true" /> The go-live check has
        found nothing to mend{only === undefined ? '' : ' in this message'}.
      </p>
    )
  }
  return (
    <ul
      aria-label="Go-live check"
      className="flex max-h-40 shrink-0 flex-wrap gap-2 overflow-y-auto text-[13px] leading-snug print:hidden"
    >
      {open.map((finding) => (
        <OpenFinding key={findingId(finding)} finding={finding} {...cards} />
      ))}
      {answered.map(({ finding, note }) => (
        <Answered key={findingId(finding)} finding={finding} note={note} {...cards} />
      ))}
    </ul>
  )
})

interface CardProps extends Pick<Props, 'onSelect'> {
  finding: Finding
  /** It may have been mended already. */
  isOld: boolean
  /** Missing for those who may only look. */
  onEdit: ((edit: Edit) => void) | undefined
}

// There may be many: those out of sight are not drawn.
const CARD =
  'panel max-w-md flex-1 basis-72 px-3 py-2 [contain-intrinsic-size:auto_5rem] [content-visibility:auto]'

const OpenFinding = memo(function OpenFinding(props: CardProps): ReactNode {
  const { finding, isOld, onSelect, onEdit } = props
  const [answering, setAnswering] = useState(false)
  const { repair } = finding
  const stops = finding.severity === 'error'
  const Icon = stops ? CircleAlert : CircleHelp
  return (
    <li className={`${CARD} ${stops ? 'border-accent' : ''}`}>
      <button
        type="button"
        onClick={() => onSelect(finding.place)}
        className="flex w-full items-start gap-2 text-left hover:underline"
      >
        <Icon
          size={15}
          className={`mt-0.5 shrink-0 ${stops ? 'text-accent' : 'text-warning'}`}
          aria-hidden="true"
        />
        <span>
          <span className="text-xs text-secondary">
            {stops ? 'Stops going live' : 'Worth a thought'}
          </span>
          <span className="block font-medium">{finding.title}</span>
          <span className="text-secondary">{finding.detail}</span>
        </span>
      </button>
      {onEdit && !answering && (
        <div className="mt-1 ml-6 flex flex-wrap gap-1">
          {repair && (
            <button
              type="button"
              className="btn btn-xs"
              disabled={isOld}
              onClick={() => onEdit(repair.mend)}
            >
              {repair.label}
            </button>
          )}
          {!stops && (
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={`Say why it is right: ${finding.title}`}
              onClick={() => setAnswering(true)}
            >
              It is right so …
            </button>
          )}
        </div>
      )}
      {onEdit && answering && (
        <AnswerForm
          onAnswer={(note) => onEdit((before) => answer(before, finding, note))}
          onCancel={() => setAnswering(false)}
        />
      )}
    </li>
  )
})

function AnswerForm({
  onAnswer,
  onCancel,
}: {
  onAnswer: (note: string) => void
  onCancel: () => void
}): ReactNode {
  const [note, setNote] = useState('')
  return (
    <form
      className="mt-1 ml-6 flex gap-1"
      onSubmit={(event) => {
        event.preventDefault()
        if (note.trim() !== '') onAnswer(note.trim())
      }}
    >
      <input
        className="input input-xs min-w-0 flex-1"
        aria-label="Why it is right as it is"
        placeholder="Why, for colleagues"
        maxLength={500}
        value={note}
        onChange={(event) => setNote(event.target.value)}
      />
      <button type="submit" className="btn btn-xs" disabled={note.trim() === ''}>
        Keep
      </button>
      <button type="button" className="btn btn-ghost btn-xs" onClick={onCancel}>
        Cancel
      </button>
    </form>
  )
}

const Answered = memo(function Answered({
  finding,
  note,
  onEdit,
}: CardProps & { note: string }): ReactNode {
  return (
    <li className={`${CARD} flex items-start gap-2 text-secondary`}>
      <MessageSquareText size={15} className="mt-0.5 shrink-0" aria-hidden="true" />
      <span className="flex-1">
        <span className="block">{finding.title}</span>
        <span className="italic">Right so: {note}</span>
      </span>
      {onEdit && (
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          onClick={() => onEdit((before) => reopen(before, finding))}
        >
          Open again
        </button>
      )}
    </li>
  )
})
