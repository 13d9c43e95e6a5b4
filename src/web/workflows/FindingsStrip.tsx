import { CircleAlert, CircleCheck, CircleHelp, MessageSquareText } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { answer, reopen, sortedByAnswer } from '../../core/check/answers.ts'
import { findingId, type Finding } from '../../core/check/finding.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import type { Selection } from './selection.ts'

interface Props {
  findings: Finding[]
  definition: Definition
  onSelect: (selection: Selection) => void
  /** Missing for those who may only look. */
  onChange: ((to: Definition) => void) | undefined
}

/** What the go-live check found; each finding leads to its place, and is mended or answered here. */
export function FindingsStrip({ findings, definition, onSelect, onChange }: Props): ReactNode {
  const { open, answered } = sortedByAnswer(findings, definition)
  if (open.length === 0 && answered.length === 0) {
    return (
      <p className="flex items-center gap-2 text-secondary print:hidden" data-testid="no-findings">
        <CircleCheck size={16} className="text-primary" aria-hidden="true" /> The go-live check has
        found nothing to mend.
      </p>
    )
  }
  const common = { definition, onSelect, onChange }
  return (
    <ul
      aria-label="Go-live check"
      className="flex max-h-40 shrink-0 flex-wrap gap-2 overflow-y-auto text-[13px] leading-snug print:hidden"
    >
      {open.map((finding) => (
        <OpenFinding key={findingId(finding)} finding={finding} {...common} />
      ))}
      {answered.map(({ finding, note }) => (
        <Answered key={findingId(finding)} finding={finding} note={note} {...common} />
      ))}
    </ul>
  )
}

type CardProps = Omit<Props, 'findings'> & { finding: Finding }

const CARD = 'panel max-w-md flex-1 basis-72 px-3 py-2'

function OpenFinding({ finding, definition, onSelect, onChange }: CardProps): ReactNode {
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
      {onChange && !answering && (
        <div className="mt-1 ml-6 flex flex-wrap gap-1">
          {repair && (
            <button
              type="button"
              className="btn btn-xs"
              onClick={() => onChange(repair.mend(definition))}
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
      {onChange && answering && (
        <AnswerForm
          onAnswer={(note) => onChange(answer(definition, finding, note))}
          onCancel={() => setAnswering(false)}
        />
      )}
    </li>
  )
}

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

function Answered({
  finding,
  note,
  definition,
  onChange,
}: CardProps & { note: string }): ReactNode {
  return (
    <li className={`${CARD} flex items-start gap-2 text-secondary`}>
      <MessageSquareText size={15} className="mt-0.5 shrink-0" aria-hidden="true" />
      <span className="flex-1">
        <span className="block">{finding.title}</span>
        <span className="italic">Right so: {note}</span>
      </span>
      {onChange && (
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          onClick={() => onChange(reopen(definition, finding))}
        >
          Open again
        </button>
      )}
    </li>
  )
}
