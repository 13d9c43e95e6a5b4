import { CircleAlert, CircleHelp, MessageSquareText } from 'lucide-react'
import { memo, useEffect, useRef, useState, type ReactNode } from 'react'
import { flushSync } from 'react-dom'
import { answer, reopen, type Sorted } from '../../../core/check/answers.ts'
import { findingId, type Finding } from '../../../core/check/finding.ts'
import type { Definition } from '../../../core/workflow/definition.ts'

export type Edit = (before: Definition) => Definition

export interface CardProps {
  /** Leads to where it is to be mended. */
  onShow: (finding: Finding) => void
  /** It may have been mended already. */
  isOld: boolean
  /** Missing for those who may only look. */
  onEdit: ((edit: Edit) => void) | undefined
}

interface OneProps extends CardProps {
  finding: Finding
}

/** How many of the same kind are shown: the others would hide what is found besides. */
const SHOWN = 2

/** What is found of one kind: the first of many, and the others when they are asked for. */
export function AlikeFindings({
  findings,
  ...card
}: CardProps & { findings: readonly Finding[] }): ReactNode {
  const [all, setAll] = useState(false)
  // One more is shown rather than announced.
  const shown = findings.length > SHOWN + 1 ? SHOWN : findings.length
  const hidden = findings.length - shown
  const cardOf = (finding: Finding) => (
    <OpenFinding key={findingId(finding)} finding={finding} {...card} />
  )
  return (
    <>
      {findings.slice(0, shown).map(cardOf)}
      {hidden > 0 && (
        <li className="flex">
          <button
            type="button"
            className="panel px-3 text-secondary hover:underline"
            aria-expanded={all}
            onClick={() => setAll(!all)}
          >
            {all ? 'Show fewer' : `${hidden} more like these`}
          </button>
        </li>
      )}
      {all && findings.slice(shown).map(cardOf)}
    </>
  )
}

const CARD = 'panel max-w-md flex-1 basis-72 px-3 py-2'

const OpenFinding = memo(function OpenFinding(props: OneProps): ReactNode {
  const { finding, isOld, onShow, onEdit } = props
  const [answering, setAnswering] = useState(false)
  const answerButton = useRef<HTMLButtonElement>(null)
  const cancel = () => {
    flushSync(() => setAnswering(false))
    answerButton.current?.focus()
  }
  const { repair } = finding
  const stops = finding.severity === 'error'
  const Icon = stops ? CircleAlert : CircleHelp
  return (
    <li className={`${CARD} ${stops ? 'border-accent' : ''}`}>
      <button
        type="button"
        onClick={() => onShow(finding)}
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
              ref={answerButton}
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
          onCancel={cancel}
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
  const input = useRef<HTMLInputElement>(null)
  useEffect(() => input.current?.focus(), [])
  return (
    <form
      className="mt-1 ml-6 flex gap-1"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onCancel()
      }}
      onSubmit={(event) => {
        event.preventDefault()
        if (note.trim() !== '') onAnswer(note.trim())
      }}
    >
      <input
        ref={input}
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

/** What has been said to be right: how many, and which when that is asked for. */
export function AnsweredFindings({
  answered,
  ...card
}: CardProps & { answered: Sorted['answered'] }): ReactNode {
  const [shown, setShown] = useState(false)
  if (answered.length === 0) return null
  return (
    <>
      <li className="flex">
        <button
          type="button"
          className="panel flex items-center gap-2 px-3 py-1 text-secondary hover:underline"
          aria-expanded={shown}
          onClick={() => setShown(!shown)}
        >
          <MessageSquareText size={15} aria-hidden="true" /> {answered.length} answered
        </button>
      </li>
      {shown &&
        answered.map(({ finding, note }) => (
          <AnsweredFinding key={findingId(finding)} finding={finding} note={note} {...card} />
        ))}
    </>
  )
}

const AnsweredFinding = memo(function AnsweredFinding({
  finding,
  note,
  onEdit,
}: OneProps & { note: string }): ReactNode {
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
